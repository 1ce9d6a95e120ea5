import { expect, test } from "vitest";

import { nearKeys, nearWords, placeOn, reach } from "./near";

const curve = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame })) });

test("the playhead stands in the middle, the farthest frames at the ends, far ones closer together", () => {
  expect(placeOn(40, 40)).toBe(0);
  expect(placeOn(40 + reach, 40)).toBeCloseTo(1);
  expect(placeOn(40 - reach, 40)).toBeCloseTo(-1);
  const ways = Array.from({ length: reach }, (_, n) => placeOn(n + 1, 0) - placeOn(n, 0));
  expect(ways.every((way, n) => way > 0 && (n === 0 || way < (ways[n - 1] ?? 0)))).toBe(true);
});

test("keys beyond the reach are left out, fractions count as what they are", () => {
  expect(nearKeys([curve(0, 39.5, 40, 52, 52.5)], 40)).toEqual([
    { frame: 39.5, share: 1 }, { frame: 40, share: 1 }, { frame: 52, share: 1 },
  ]);
  expect(nearWords(nearKeys([curve(39.5)], 40), 40)).toBe("no key on this frame; keys at 39.5");
});

test("of several curves a tick says which share of them is keyed", () => {
  expect(nearKeys([curve(40), curve(40, 44), curve()], 40)).toEqual([{ frame: 40, share: 2 / 3 }, { frame: 44, share: 1 / 3 }]);
  expect(nearWords([], 7)).toBe("no key on this frame; no keys within 12 frames");
});
