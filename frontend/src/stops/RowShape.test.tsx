// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, it } from "vitest";

import type { Curve } from "../api/client";
import { page } from "../shared/page.testing";
import { RowShape } from "./RowShape";

let hand: ReturnType<typeof page>;
const mapping = { keys: [0, 5, 10].map((frame) => ({ frame, value: frame / 10 })) } as Curve;
const corners = () => (document.querySelector("polyline")?.getAttribute("points") ?? "").split(" ").filter(Boolean).map((pair) => pair.split(",").map(Number));
const stops = () => [...document.querySelectorAll("circle[r='3']")].map((one) => [Number(one.getAttribute("cx")), Number(one.getAttribute("cy"))]);

beforeEach(() => { hand = page(); });
afterEach(() => { hand.close(); });

it("draws its stops on its line, also where another value is tried", () => {
  hand.show(<RowShape inputs={[0, 5, 10]} values={[0, 0.9, 1]} mapping={mapping} at={20} now={1} />);
  for (const [n, [x = 0, y = 0]] of corners().entries()) {
    expect(stops()[n]?.[0]).toBeCloseTo(x, 0);
    expect(stops()[n]?.[1]).toBeCloseTo(y, 0);
  }
  // A driver beyond its range is shown at the end.
  expect(Number(document.querySelector("circle[r='3.5']")?.getAttribute("cx"))).toBeCloseTo(stops()[2]?.[0] ?? 0, 0);
});

it("draws what is stored until the first numbers come, and nothing of a driver that goes nowhere", () => {
  hand.show(<RowShape inputs={[0, 10]} values={[]} mapping={mapping} at={5} now={null} />);
  const heights = stops().map(([, y = 0]) => y);
  expect(heights).toEqual([...heights].sort((a, b) => b - a));
  expect(new Set(heights).size).toBe(3);
  hand.show(<RowShape inputs={[3]} values={[1]} mapping={mapping} at={3} now={1} />);
  expect(document.querySelector("svg")?.children.length).toBe(0);
});

it("lies in the middle where every value is the same", () => {
  const flat = { keys: [0, 10].map((frame) => ({ frame, value: 2 })) } as Curve;
  hand.show(<RowShape inputs={[0, 10]} values={[2, 2]} mapping={flat} at={0} now={2} />);
  expect(new Set(stops().map(([, y]) => y))).toEqual(new Set([22]));
});
