import { expect, test } from "vitest";

import { saidSpans, spansOf } from "./spans";

test("spans are read as people write them, and written as they are read", () => {
  expect(spansOf("10 … 20, 40-60; 75, 9..3,")).toEqual([[10, 20], [40, 60], [75, 75], [3, 9]]);
  expect(spansOf("-5 … -2, −9–−7, -3-4, 3--4")).toEqual([[-5, -2], [-9, -7], [-3, 4], [-4, 3]]);
  expect(spansOf(" ")).toEqual([]);
  for (const wrong of ["10 20", "a", "1.5", "1-2-3", "… 4"]) expect(spansOf(wrong)).toBeUndefined();
  const said = "-5 … -2, 0, 7 … 9";
  expect(saidSpans(spansOf(said) ?? [])).toBe(said);
});
