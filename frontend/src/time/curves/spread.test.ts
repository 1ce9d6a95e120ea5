import { expect, test } from "vitest";

import { spread } from "./spread";

test("what is far apart stays, what is near is moved apart in its order", () => {
  expect(spread([10, 50, 90], 12)).toEqual([10, 50, 90]);
  expect(spread([50, 49, 10], 12)).toEqual([61, 49, 10]);
  expect(spread([5, 5, 5], 10)).toEqual([5, 15, 25]);
  expect(spread([], 10)).toEqual([]);
  expect(spread([95, 99, 10], 12, 100)).toEqual([88, 100, 10]);
});
