import { expect, test } from "vitest";

import { patternNames } from "./patternNames";

const toes = ["left toe", "left claw"];

test("a pattern counts, keeps the old name, or changes a word of it", () => {
  expect(patternNames("toe #", toes)).toEqual(["toe 1", "toe 2"]);
  expect(patternNames("toe ##, *", toes)).toEqual(["toe 01, left toe", "toe 02, left claw"]);
  expect(patternNames("left=right", toes)).toEqual(["right toe", "right claw"]);
  expect(patternNames("=x", toes)).toEqual(toes);
  expect(patternNames("* $&", ["a$b"])).toEqual(["a$b $&"]);
});
