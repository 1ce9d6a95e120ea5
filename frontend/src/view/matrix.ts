import { Matrix4 } from "three";

import type { Block } from "../state/samples";
import { worldAt } from "./world";

/** A part's world matrix as the drawing takes it; see ``worldAt``. */
export function matrixAt(block: Block | undefined, into = new Matrix4(), frame?: number, first?: number): Matrix4 | null {
  const m = worldAt(block, frame, first);
  if (!m) return null;
  const at = (n: number) => m[n] ?? 0;
  return into.set(
    at(0), at(1), at(2), at(3),
    at(4), at(5), at(6), at(7),
    at(8), at(9), at(10), at(11),
    0, 0, 0, 1,
  );
}
