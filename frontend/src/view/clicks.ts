import type { ThreeEvent } from "@react-three/fiber";

const STILL = 4;

/** Whether the pointer went more than a few pixels between down and up: the view was turned, or a handle
 * dragged, and nothing was meant to be chosen. */
export function wasDrag({ delta }: ThreeEvent<MouseEvent>): boolean {
  return delta > STILL;
}
