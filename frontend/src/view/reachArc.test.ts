import { Vector3 } from "three";
import { expect, test } from "vitest";

import { reachArc } from "./reachArc";

test("the arc stays at the reach, in the plane of the limb, its middle toward the goal", () => {
  const base = new Vector3(1, 2, 3);
  const arc = reachArc(base, new Vector3(1, 2, 9), new Vector3(1, 2.5, 5), 2);
  for (const point of arc) {
    expect(point.distanceTo(base)).toBeCloseTo(2, 9);
    expect(point.x).toBeCloseTo(1, 9);
  }
  expect(arc[24]?.z).toBeCloseTo(5, 9);
});

test("a straight limb has an arc too, a goal on the base none", () => {
  const base = new Vector3(0, 0, 0);
  expect(reachArc(base, new Vector3(0, 0, 1), new Vector3(0, 0, 0.5), 1)).toHaveLength(49);
  expect(reachArc(base, new Vector3(0, 1, 0), new Vector3(0, 0.5, 0), 1)).toHaveLength(49);
  expect(reachArc(base, base, base, 1)).toHaveLength(0);
});
