import { Vector3 } from "three";

const steps = 48;
const wide = Math.PI / 4;

/** Points of an arc with its middle toward the goal, `reach` metres from the base, in the plane of
 * base, goal and the limb's middle; none where the goal is on the base. */
export function reachArc(base: Vector3, goal: Vector3, middle: Vector3, reach: number): Vector3[] {
  const out = goal.clone().sub(base);
  if (out.length() < 1e-9 || reach <= 0) return [];
  out.normalize();
  const side = middle.clone().sub(base);
  side.addScaledVector(out, -side.dot(out));
  // Straight: any plane will do.
  if (side.length() < 1e-9) side.crossVectors(out, Math.abs(out.y) < 0.9 ? new Vector3(0, 1, 0) : new Vector3(0, 0, 1));
  side.normalize();
  return Array.from({ length: steps + 1 }, (_, n) => {
    const angle = (n / steps - 0.5) * 2 * wide;
    return base.clone().addScaledVector(out, reach * Math.cos(angle)).addScaledVector(side, reach * Math.sin(angle));
  });
}
