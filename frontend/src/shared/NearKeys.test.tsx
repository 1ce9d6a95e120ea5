// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { NearKeys } from "./NearKeys";
import { nearKeys } from "./near";
import type { Curve } from "../api/client";
import { page } from "./page.testing";

let hand: ReturnType<typeof page>;
const here = vi.fn();
const go = vi.fn<(frame: number) => void>();
const curve = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame, value: 0 })) }) as Curve;
const ruler = () => document.querySelector<HTMLButtonElement>("button");
const show = (curves: Curve[], now: number, more: object = {}) => {
  hand.show(<NearKeys label="size" near={nearKeys(curves, now)} now={now} curved={curves.length > 0} onHere={here} onGo={go} {...more} />);
};
const click = (x: number, detail = 1) => { act(() => { ruler()?.dispatchEvent(new MouseEvent("click", { clientX: x, detail, bubbles: true })); }); };
/** Where the tick of a frame stands, as it is drawn. */
const tickAt = (n: number) => Number(document.querySelectorAll("[data-near] > line:first-child")[n]?.getAttribute("x1"));

beforeEach(() => {
  hand = page();
  here.mockClear();
  go.mockClear();
});
afterEach(() => { hand.close(); });

it("keys this frame in the middle, and goes to a key on its tick", () => {
  show([curve(6, 14)], 10);
  click(22);
  click(tickAt(0));
  click(tickAt(1));
  click(2);
  expect([here.mock.calls.length, go.mock.calls.flat()]).toEqual([2, [6, 14]]);
});

it("shows the base's keys under those of a layer, and goes to them where the layer has none", () => {
  const base = vi.fn<(frame: number) => void>();
  show([], 10, { base: nearKeys([curve(6, 10, 14)], 10), onBase: base });
  click(22);
  click(Number(document.querySelector("[data-base-keys='3'] line")?.getAttribute("x1")));
  show([curve(6)], 10, { base: nearKeys([curve(6)], 10), onBase: base });
  click(Number(document.querySelector("[data-base-keys] line")?.getAttribute("x1")));
  expect([here.mock.calls.length, base.mock.calls.flat(), go.mock.calls.flat()]).toEqual([1, [6], [6]]);
  expect(ruler()?.title).toContain("keys of the base");
});

it("takes Enter for the frame that is shown, wherever keys are near", () => {
  show([curve(1, 10)], 10);
  click(0, 0);
  expect([here.mock.calls.length, go.mock.calls.length]).toEqual([1, 0]);
});

it("marks a key on this frame, and says what a click does", () => {
  show([curve(10, 12)], 10);
  expect([document.querySelectorAll("[data-near=here]").length, ruler()?.title.includes("to delete it")]).toEqual([1, true]);
  show([curve(12)], 10);
  expect([document.querySelectorAll("[data-near=here]").length, ruler()?.title.includes("to key it")]).toEqual([0, true]);
});

it("has a quiet + without keys, and a word where it is locked", () => {
  show([], 10);
  expect(ruler()?.textContent).toBe("+");
  show([], 10, { locked: true });
  expect([ruler()?.textContent, ruler()?.disabled]).toEqual(["locked", true]);
  click(22);
  expect(here).not.toHaveBeenCalled();
});
