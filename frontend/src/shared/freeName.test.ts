import { expect, it } from "vitest";

import { freeName } from "./freeName";

it("gives the wanted name, or the first that is free behind it", () => {
  const taken = ["aim", "aim 2", "spaces"];
  expect(["path", "aim", "aim 2", "spaces", ""].map((name) => freeName(name, taken))).toEqual(["path", "aim 3", "aim 2 2", "spaces 2", ""]);
});
