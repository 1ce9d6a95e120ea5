/** Points as people write them, `0-7, 12`; undefined where that cannot be read, or names a point that is
 * not there. */
export function pointsOf(text: string, count: number): number[] | undefined {
  const found = new Set<number>();
  for (const piece of text.split(",").map((one) => one.trim()).filter(Boolean)) {
    const [, a, b] = /^(\d+)(?:\s*[-–…]\s*(\d+))?$/.exec(piece) ?? [];
    if (a === undefined) return undefined;
    const [from, to] = [Number(a), Number(b ?? a)];
    if (to < from || to >= count) return undefined;
    for (let point = from; point <= to; point += 1) found.add(point);
  }
  return found.size ? [...found].sort((a, b) => a - b) : undefined;
}
