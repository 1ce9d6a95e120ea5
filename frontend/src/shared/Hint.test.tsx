// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { Hint } from "./Hint";
import { page } from "./page.testing";

let hand: ReturnType<typeof page>;
const control = () => hand.labelled("Key");
const shown = () => [...document.querySelectorAll("[role=tooltip]")].map(({ textContent }) => textContent);
const pointer = (way: "mouseover" | "mouseout") => { act(() => { control().dispatchEvent(new MouseEvent(way, { bubbles: true })); }); };
const pass = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

beforeEach(() => {
  vi.useFakeTimers();
  hand = page();
});
afterEach(() => {
  hand.close();
  vi.useRealTimers();
});

it("is made once the pointer has rested, describes its control, and goes without a trace", async () => {
  hand.show(<Hint title="a key on this frame"><button aria-label="Key" /></Hint>);
  pointer("mouseover");
  await pass(50);
  pointer("mouseout");
  await pass(500);
  expect(shown()).toEqual([]);
  pointer("mouseover");
  await pass(200);
  expect(shown()).toEqual(["a key on this frame"]);
  const described = control().getAttribute("aria-describedby") ?? "";
  expect(document.getElementById(described)?.textContent).toBe("a key on this frame");
  pointer("mouseout");
  await pass(500);
  expect([shown(), control().hasAttribute("aria-describedby")]).toEqual([[], false]);
});

it("is up or not as its owner says, and leaves its control as it is", async () => {
  const asked = (open?: boolean, title = "not a number") => { hand.show(<Hint title={title} open={open}><button aria-label="Key" /></Hint>); };
  asked(true);
  await pass(200);
  const before = control();
  expect(shown()).toEqual(["not a number"]);
  asked(false);
  pointer("mouseover");
  await pass(200);
  expect(shown()).toEqual([]);
  asked();
  expect(shown()).toEqual(["not a number"]);
  asked(true, "");
  expect([shown(), control() === before]).toEqual([[], true]);
});
