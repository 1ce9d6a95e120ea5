import { expect, test } from "vitest";

import type { PartView } from "../../api/client";
import { feetOf, patterns, phasesFor, rootOf } from "./patterns";

test("feet get the phases of the first pattern for their count, else one after the other", () => {
  expect(phasesFor(2)).toEqual([0, 0.5]);
  expect(phasesFor(6)).toEqual(patterns["six, three by three"]);
  expect(phasesFor(3)).toEqual([0, 0.333, 0.667]);
  for (const phases of Object.values(patterns)) expect(phases.every((phase) => phase >= 0 && phase < 1)).toBe(true);
});

test("the root is the chosen part at the top that carries others; the rest are feet", () => {
  const part = (id: string, parent: string | null) => [id, { id, parent } as PartView] as const;
  const parts = Object.fromEntries([part("root", null), part("hips", "root"), part("l", null), part("r", null)]);
  expect(rootOf(parts, ["l", "r", "root"])).toBe("root");
  expect(rootOf(parts, ["root", "l", "r"])).toBe("root");
  expect(rootOf(parts, ["l", "r"])).toBe("r");
  expect(feetOf(["l", "root", "r"], "root")).toEqual(["l", "r"]);
});
