import { useState } from "react";

import { useOpenScene } from "../state/openScene";
import { usePlayer } from "../state/player";
import type { Block } from "../state/samples";
import { useSamples } from "../state/samples";

/** The name of a part's final world matrix among the wanted numbers. */
export function worldName(part: string) {
  return `${part}/world matrix/final`;
}

/** Whether the places of all parts have come: before that, a view of some of them would be taken for
 * the whole. A part that is added later has its place a little later. */
export function useAllPlaced(): boolean {
  const order = useOpenScene((scene) => scene.order);
  const [once, setOnce] = useState(false);
  const now = useSamples(({ blocks }) => once || (order.length > 0 && order.every((id) => worldName(id) in blocks)));
  if (now && !once) setOnce(true);
  return now;
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
