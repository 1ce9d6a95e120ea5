import { expect, it } from "vitest";

import { moved, pointsOf } from "./points";

it("reads points as people write them", () => {
  expect(pointsOf("3", 8)).toEqual([3]);
  expect(pointsOf(" 0-2, 7 ,1", 8)).toEqual([0, 1, 2, 7]);
  expect(pointsOf("5 … 6", 8)).toEqual([5, 6]);
});

it("reads nothing where a point is not there or the text says none", () => {
  for (const text of ["", " , ", "8", "2-8", "5-3", "1.5", "-1", "a", "1 2"]) expect(pointsOf(text, 8)).toBeUndefined();
});

it("moves a step to a place among the others", () => {
  expect(moved(["a", "b", "c"], "a", 2)).toEqual(["b", "c", "a"]);
  expect(moved(["a", "b", "c"], "c", 0)).toEqual(["c", "a", "b"]);
  expect(moved(["a", "b", "c"], "b", 1)).toEqual(["a", "b", "c"]);
});
