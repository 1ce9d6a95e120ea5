import { expect, it } from "vitest";

import { margin, pathOf, rangeOf, scalesOf, windowOf } from "./scales";

const block = (values: number[]) => ({
  key: "k",
  frames: values.length,
  width: 1,
  data: Float32Array.from(values),
});

it("shows all curves and keys with room above and below", () => {
  const shown = windowOf(0, 100, [block([0, 10]), undefined], [-10]);
  expect(shown.x).toEqual([-1, 101]);
  expect(shown.y[0]).toBeLessThan(-10);
  expect(shown.y[1]).toBeGreaterThan(10);
});

it("gives a flat curve and an empty plane some height", () => {
  for (const values of [[5], []]) {
    const { y } = windowOf(0, 10, [block(values)], []);
    expect(y[1] - y[0]).toBeGreaterThan(0.5);
  }
});

it("draws one point for each frame, and a constant as one line", () => {
  const scales = scalesOf({ x: [0, 2], y: [0, 1] }, margin.left + margin.right + 200, 132);
  const top = margin.top.toFixed(2);
  const points = pathOf(block([0, 1, 0]), 0, 2, scales).slice(1).split("L");
  expect(points).toEqual(["124.00,110.00", `224.00,${top}`, "324.00,110.00"]);
  expect(pathOf(block([1]), 0, 2, scales)).toBe(`M124.00,${top}H324.00`);
});

it("finds the lowest and highest of more numbers than a call takes", () => {
  expect(rangeOf(Array.from({ length: 300_000 }, (_, n) => n - 7))).toEqual([-7, 299_992]);
});
