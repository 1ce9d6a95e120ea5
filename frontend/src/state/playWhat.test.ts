import { expect, test } from "vitest";

import { heldFrame, playedRange } from "./playWhat";

test("a section is kept within the range, whichever way round it was typed", () => {
  const within = (section: [number, number] | null) => playedRange({ show: "every frame", section }, 10, 50);
  expect(within(null)).toEqual([10, 50]);
  expect(within([20, 30])).toEqual([20, 30]);
  expect(within([30, 20])).toEqual([20, 30]);
  expect(within([0, 30])).toEqual([10, 30]);
  expect(within([60, 70])).toEqual([50, 50]);
});

test("frames between those that are seen hold the one before", () => {
  const run = (show: Parameters<typeof heldFrame>[0], keyed: number[] = []) =>
    [10, 11, 12, 13, 14, 15].map((frame) => heldFrame(show, frame, 10, keyed));
  expect(run("every frame")).toEqual([10, 11, 12, 13, 14, 15]);
  expect(run(2)).toEqual([10, 10, 12, 12, 14, 14]);
  expect(run(4)).toEqual([10, 10, 10, 10, 14, 14]);
  expect(run("keys", [4, 12, 15])).toEqual([10, 10, 12, 12, 12, 15]);
  expect(run("keys")).toEqual([10, 10, 10, 10, 10, 10]);
});
