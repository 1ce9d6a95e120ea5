const able = "input:not([disabled]), button:not([disabled]), textarea, a[href], [tabindex='0']";

/** Brings the keyboard to the next panel of the page, or the one before. */
export function toLandmark(way: 1 | -1) {
  const panels = [...document.querySelectorAll<HTMLElement>("[data-landmark]")];
  const here = panels.findIndex((panel) => panel.contains(document.activeElement));
  const next = panels[(here + way + (here < 0 && way < 0 ? 1 : 0) + panels.length) % panels.length];
  if (!next) return;
  const inside = [...next.querySelectorAll<HTMLElement>(able)].find((one) => one.offsetParent !== null && one.tabIndex >= 0);
  (inside ?? next).focus();
}
