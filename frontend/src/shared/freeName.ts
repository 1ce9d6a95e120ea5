/** A name that is not taken: the wanted one, or that with the first number behind it that is free. */
export function freeName(wanted: string, taken: Iterable<string>): string {
  const known = new Set(taken);
  let name = wanted;
  for (let n = 2; known.has(name); n += 1) name = `${wanted} ${String(n)}`;
  return name;
}
