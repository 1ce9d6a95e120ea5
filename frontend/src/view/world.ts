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

/** The twelve numbers of a part's world matrix, rows first, on a frame: the playhead's unless one is
 * given; null until they have come. `first` is the frame that the block begins on. */
export function worldAt(
  block: Block | undefined,
  frame = usePlayer.getState().frame,
  first = useSamples.getState().first,
): Float32Array | null {
  if (!block) return null;
  const row = block.frames === 1 ? 0 : Math.min(Math.max(frame - first, 0), block.frames - 1);
  return block.data.subarray(row * 12, row * 12 + 12);
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
