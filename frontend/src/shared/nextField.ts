/** The next field of the same kind: within the closest group of fields, in the order of the page. */
export function nextField(field: HTMLInputElement, way: 1 | -1): HTMLInputElement | undefined {
  const group = field.closest("[data-fields]");
  const all = [...(group?.querySelectorAll<HTMLInputElement>("input[data-number]:not([readonly])") ?? [])];
  return all[all.indexOf(field) + way];
}
