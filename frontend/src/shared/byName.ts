interface Named {
  label: string;
}

/** Whether a name holds all the words; `*` stands for any letters. */
export function fits(name: string, search: string): boolean {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  return words.every((word) => patternOf(word).test(name.toLowerCase()));
}

function patternOf(word: string): RegExp {
  const pieces = word.split("*").map((piece) => piece.replace(/[.+?^${}()|[\]\\]/g, "\\$&"));
  return new RegExp(pieces.join(".*"));
}

/** How well a name answers a search, the best first: the very name, one that begins with it, shorter
 * ones before longer ones. Channels of a part that is searched for are all as near: they keep their order. */
export function closeness(name: string, search: string): number {
  const [a, b] = [name.toLowerCase(), search.toLowerCase().trim()];
  if (a === b) return -2000;
  const sought = b.includes(".") ? a : (a.split(".")[0] ?? a);
  return (a.startsWith(b) ? -1000 : 0) + sought.length;
}

/** How lists of names are searched. */
export const byName = {
  filterOption: (search: string, option: Partial<Named> | undefined) => fits(option?.label ?? "", search),
  filterSort: (a: Partial<Named>, b: Partial<Named>, { searchValue }: { searchValue: string }) =>
    searchValue.trim() ? closeness(a.label ?? "", searchValue) - closeness(b.label ?? "", searchValue) : 0,
};
