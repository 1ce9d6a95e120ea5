import { expect, it } from "vitest";

import { pointsOf } from "./points";

it("reads points as people write them", () => {
  expect(pointsOf("3", 8)).toEqual([3]);
  expect(pointsOf(" 0-2, 7 ,1", 8)).toEqual([0, 1, 2, 7]);
  expect(pointsOf("5 … 6", 8)).toEqual([5, 6]);
});

it("reads nothing where a point is not there or the text says none", () => {
  for (const text of ["", " , ", "8", "2-8", "5-3", "1.5", "-1", "a", "1 2"]) expect(pointsOf(text, 8)).toBeUndefined();
});
