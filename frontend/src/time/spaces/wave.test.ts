import { describe, expect, it } from "vitest";

import { waveOf } from "./wave";

const corners = (path: string) => [...path.matchAll(/([\d.]+),([\d.]+)/g)].map(([, x, y]) => [Number(x), Number(y)]);

describe("the outline of a sound", () => {
  const samples = new Float32Array(100).map((_, n) => (n === 50 ? 1 : n === 52 ? -0.5 : 0));
  it("shows the highest and the lowest sample of each pixel, where the sound is", () => {
    // Ten samples a pixel, the sound begins at pixel 3.
    const found = corners(waveOf(samples, 10, (pixel) => pixel - 3, [0, 40], 22));
    expect(found).toHaveLength(20);
    expect(found[0]?.[0]).toBe(3);
    expect(found.find(([x]) => x === 8)?.[1]).toBe(1);
    expect(found.findLast(([x]) => x === 8)?.[1]).toBe(16);
    expect(found.find(([x]) => x === 7)?.[1]).toBeCloseTo(10.7, 1);
  });
  it("is nothing where the window has none of it, and goes between samples", () => {
    expect(waveOf(samples, 10, (pixel) => pixel + 100, [0, 40], 22)).toBe("");
    expect(corners(waveOf(samples, 10, (pixel) => pixel / 1000, [0, 4], 22))).toHaveLength(8);
  });
});
