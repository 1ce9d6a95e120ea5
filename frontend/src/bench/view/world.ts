import { Matrix4 } from "three";

import { usePlayer } from "../../state/player";
import type { Block } from "../../state/samples";
import { useSamples } from "../../state/samples";

/** The name of a part's final world matrix among the wanted numbers. */
export function worldName(part: string) {
  return `${part}/world matrix/final`;
}

/** A part's world matrix on the playhead's frame; null until it has come. */
export function matrixAt(block: Block | undefined, into = new Matrix4()): Matrix4 | null {
  if (!block) return null;
  const place = usePlayer.getState().frame - useSamples.getState().first;
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
