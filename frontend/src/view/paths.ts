import type { PathsIn } from "../state/showing";

/** The name of a part's path among the wanted numbers. */
export function pathName(part: string, { space, point }: PathsIn) {
  return `${part}/path/${space ?? "0"} ${point.map(String).join(" ")}`;
}

export interface Uneven {
  count: number;
  from: number;
  to: number;
  worst: number;
}

/** On how many frames a path stands out of an even motion, the first and last of them, and by what share
 * at most; null where it is even. `first` is the frame that the block begins on. */
export function unevenOf(data: Float32Array, first: number): Uneven | null {
  let found: Uneven | null = null;
  for (let n = 0; n < data.length / 4; n += 1) {
    const out = Math.abs(data[n * 4 + 3] ?? 0);
    if (out === 0) continue;
    const before: Uneven = found ?? { count: 0, from: first + n, to: first + n, worst: 0 };
    found = { ...before, count: before.count + 1, to: first + n, worst: Math.max(before.worst, out) };
  }
  return found;
}
