import { expect, test } from "vitest";

import { nearestGimbal } from "./gimbal";

test("a quarter turn is met at ±90°, ±270° and so on, and nowhere else", () => {
  expect(nearestGimbal([0, 80, 20], 10)).toEqual({ frame: 11, degrees: 10 });
  expect(nearestGimbal([-95, 0], 0)).toEqual({ frame: 0, degrees: 5 });
  expect(nearestGimbal([0, 180, 360, -450], 0)).toEqual({ frame: 3, degrees: 0 });
  expect(nearestGimbal([180, 0], 0)?.degrees).toBe(90);
  expect(nearestGimbal([], 0)).toBeUndefined();
});
