import { expect, test } from "vitest";

import type { Span } from "./plantSpans";
import { dragged } from "./plantSpans";

const one: Span = { first: 10, last: 20, keep: 12, entry: 3, exit: 4 };
const two: Span = { first: 30, last: 40, keep: 8, entry: 3, exit: 3 };

test("a span takes the frame that it keeps along, where that lies inside", () => {
  expect(dragged([one, two], 0, "whole", 5)[0]).toEqual({ ...one, first: 15, last: 25, keep: 17 });
  expect(dragged([one, two], 1, "whole", 5)[1]).toEqual({ ...two, first: 35, last: 45 });
});

test("spans do not meet, and last a frame at least", () => {
  expect(dragged([one, two], 0, "whole", 50)[0]).toEqual({ ...one, first: 19, last: 29, keep: 21 });
  expect(dragged([one, two], 1, "first", -50)[1]?.first).toBe(21);
  expect(dragged([one, two], 0, "last", 50)[0]?.last).toBe(29);
  expect(dragged([one, two], 0, "last", -50)[0]?.last).toBe(10);
  expect(dragged([one, two], 0, "first", 50)[0]?.first).toBe(20);
});

test("ends alone leave the kept frame; joins are never less than nothing", () => {
  expect(dragged([one], 0, "first", -4)[0]).toEqual({ ...one, first: 6 });
  expect(dragged([one], 0, "keep", -30)[0]?.keep).toBe(-18);
  expect(dragged([one], 0, "entry", -2)[0]?.entry).toBe(5);
  expect(dragged([one], 0, "entry", 9)[0]?.entry).toBe(0);
  expect(dragged([one], 0, "exit", 2)[0]?.exit).toBe(6);
});
