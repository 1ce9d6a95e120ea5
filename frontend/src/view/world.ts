import { Matrix4 } from "three";

import { usePlayer } from "../state/player";
import type { Block } from "../state/samples";
import { useSamples } from "../state/samples";

/** The name of a part's final world matrix among the wanted numbers. */
export function worldName(part: string) {
  return `${part}/world matrix/final`;
}

/** The name of whether a part is seen. */
export function seenName(part: string) {
  return `${part}/seen/final`;
}

/** A part's world matrix on a frame, the playhead's unless one is given; null until it has come.
 * `first` is the frame that the block begins on. */
export function matrixAt(
  block: Block | undefined,
  into = new Matrix4(),
  frame = usePlayer.getState().frame,
  first = useSamples.getState().first,
): Matrix4 | null {
  if (!block) return null;
  const place = frame - first;
  const row = block.frames === 1 ? 0 : Math.min(Math.max(place, 0), block.frames - 1);
  const m = block.data.subarray(row * 12, row * 12 + 12);
  const at = (n: number) => m[n] ?? 0;
  return into.set(
    at(0), at(1), at(2), at(3),
    at(4), at(5), at(6), at(7),
    at(8), at(9), at(10), at(11),
    0, 0, 0, 1,
  );
}

/** Whether a part is seen on the playhead's frame. */
export function isSeen(part: string): boolean {
  const { blocks, first } = useSamples.getState();
  return seenAt(blocks[seenName(part)], usePlayer.getState().frame, first);
}

/** Whether a part is seen on a frame by numbers that begin on the frame `first`. */
export function seenAt(block: Block | undefined, frame: number, first: number): boolean {
  if (!block) return true;
  const place = block.frames === 1 ? 0 : frame - first;
  return (block.data[Math.min(Math.max(place, 0), block.frames - 1)] ?? 1) > 0;
}
