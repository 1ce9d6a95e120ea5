import { expect, it } from "vitest";

import type { Limb, PartView } from "../api/client";
import { isNear, limbHands, limbParts } from "./limbParts";

const part = (id: string, parent: string | null, role = "control") => ({ id, name: id, parent, role }) as unknown as PartView;
const parts = Object.fromEntries(
  [part("body", null), part("hip", "body"), part("knee", "hip"), part("ankle", "knee"), part("toe", "ankle"), part("foot", null), part("roll", "foot", "helper"), part("aim", "roll", "helper"), part("pole", null)].map((one) => [one.id, one]),
);
const limb = { id: "b1", name: "leg", part: "body", chain: ["hip", "knee", "ankle"], goal: "aim", pole: "pole", toes: [["toe", "roll"]] } as unknown as Limb;

it("takes in hand the control above a goal that is a helper, and shows what moves a limb", () => {
  expect(limbParts(limb, parts)).toEqual(["body", "hip", "knee", "ankle", "pole", "toe", "aim", "roll", "foot"]);
  expect(limbHands(limb, parts)).toEqual(["hip", "knee", "ankle", "foot", "pole"]);
  expect(limbHands({ ...limb, pole: null, goal: "foot" }, parts)).toEqual(["hip", "knee", "ankle", "foot"]);
});

it("is near to all that people have in hand, and to nothing else", () => {
  expect([["foot"], ["toe"], ["body"], ["gone", "pole"]].map((chosen) => isNear(limb, parts, chosen))).toEqual([true, true, true, true]);
  expect([[], ["gone"]].map((chosen) => isNear(limb, parts, chosen))).toEqual([false, false]);
  expect(limbHands({ ...limb, goal: "gone" }, parts)).toEqual(["hip", "knee", "ankle", "gone", "pole"]);
});
