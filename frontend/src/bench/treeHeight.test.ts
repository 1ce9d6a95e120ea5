import { expect, it } from "vitest";

import { treeHeight } from "./treeHeight";

it("gives the tree what its parts need, and at most about half of the height", () => {
  expect([800, 1440].map((window) => treeHeight(80, window))).toEqual([370, 684]);
  expect([1, 12, 22].map((parts) => treeHeight(parts, 1440))).toEqual([340, 418, 678]);
  // Where there is little room for both, enough rows stay to be worked in.
  expect(treeHeight(80, 500)).toBe(250);
});
