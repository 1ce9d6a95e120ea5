import { expect, it } from "vitest";

import { counted, shown, tick } from "./format";

it("shows values as people read them", () => {
  expect(shown(-147.138, "°")).toBe("−147.14°");
  expect(shown(-0.001, "°")).toBe("0.00°");
  expect(shown(-0)).toBe("0.000");
  expect(shown(1.23456, "m")).toBe("1.235 m");
  expect(shown(undefined, "m")).toBe("—");
  expect(shown(23.976, "", 1)).toBe("24.0");
});

it("writes ticks short and without a minus zero", () => {
  expect(tick(-0)).toBe("0");
  expect(tick(0.1 + 0.2)).toBe("0.3");
  expect(tick(-250)).toBe("−250");
});

it("counts as people say it", () => {
  expect([0, 1, 2, 1200].map((count) => counted(count, "key"))).toEqual(["0 keys", "1 key", "2 keys", "1,200 keys"]);
  expect(counted(2, "foot", "feet")).toBe("2 feet");
});
