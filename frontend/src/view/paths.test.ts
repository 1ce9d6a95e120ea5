import { expect, test } from "vitest";

import { pathName, unevenOf } from "./paths";

test("a path is asked for by part, space and point", () => {
  expect(pathName("p3", { space: null, point: [0, 0, 0] })).toBe("p3/path/0 0 0 0");
  expect(pathName("p3", { space: "p7", point: [0.1, -2, 0] })).toBe("p3/path/p7 0.1 -2 0");
});

test("frames that stand out are counted and told from where to where", () => {
  const out = (...shares: number[]) => new Float32Array(shares.flatMap((share) => [1, 2, 3, share]));
  expect(unevenOf(out(0, 0, 0), 10)).toBeNull();
  expect(unevenOf(out(0, 0.5, 0, -0.75), 10)).toEqual({ count: 2, from: 11, to: 13, worst: 0.75 });
});
