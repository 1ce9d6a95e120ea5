/** The names that a pattern gives: `#` counts from 1 (`##` with two digits), `*` is the name that it
 * has, and `old=new` changes one word of it. */
export function patternNames(pattern: string, names: string[]): string[] {
  const [old, next] = pattern.split("=");
  if (next !== undefined) return names.map((name) => (old ? name.replaceAll(old, next).trim() : name));
  return names.map((name, n) =>
    pattern
      .replace(/#+/g, (signs) => String(n + 1).padStart(signs.length, "0"))
      .replaceAll("*", () => name)
      .trim(),
  );
}
