/** A list with one of its members at another place. */
export function moved<T>(list: T[], from: number, to: number): T[] {
  const rest = list.filter((_, n) => n !== from);
  return [...rest.slice(0, to), ...list.slice(from, from + 1), ...rest.slice(to)];
}
