import { expect, test } from "vitest";

import type { PartView } from "../../api/client";
import { chainOf, limbName } from "./chain";

const tree = { body: null, hip: "body", thigh: "hip", knee: "thigh", ankle: "knee", other: "body" };
const parts = Object.fromEntries(
  Object.entries(tree).map(([id, parent]) => [id, { id, parent, name: `left ${id}` } as PartView]),
);

test("three parts chosen in any order are a chain from the base to the end", () => {
  expect(chainOf(parts, ["ankle", "hip", "knee"])).toEqual(["hip", "knee", "ankle"]);
});

test("two parts stand for all between them", () => {
  expect(chainOf(parts, ["hip", "ankle"])).toEqual(["hip", "thigh", "knee", "ankle"]);
});

test("what is not below each other, or too short, is none", () => {
  expect(chainOf(parts, ["hip", "other", "ankle"])).toBeNull();
  expect(chainOf(parts, ["hip", "thigh"])).toBeNull();
  expect(chainOf(parts, ["hip"])).toBeNull();
  expect(chainOf(parts, [])).toBeNull();
});

test("a limb is called by its side and what its parts are", () => {
  expect(limbName(parts, ["hip", "knee", "ankle"])).toBe("left leg");
  expect(limbName({}, ["x"])).toBe("limb");
});
