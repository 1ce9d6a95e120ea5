import { expect, it } from "vitest";

import { moved } from "./moved";

it("moves a member to a place among the others", () => {
  expect(moved(["a", "b", "c"], 0, 2)).toEqual(["b", "c", "a"]);
  expect(moved(["a", "b", "c"], 2, 0)).toEqual(["c", "a", "b"]);
  expect(moved(["a", "b", "c"], 1, 1)).toEqual(["a", "b", "c"]);
});
