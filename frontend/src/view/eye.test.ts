import { expect, it } from "vitest";

import { depthAt } from "./eye";

it("draws what is looked at from any distance, and a hand's breadth before the eye from near by", () => {
  for (const away of [0, 1, 100, 917, 1e6]) {
    const { near, far } = depthAt(away);
    expect([near < Math.max(away, 1) / 10, far >= 2 * away, far / near]).toEqual([true, true, 10_000]);
  }
  expect(depthAt(2).near).toBeLessThan(0.06);
});
