// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { StepView } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { usePopup } from "../../state/popup";
import { feed } from "../../state/samples";
import { standIn } from "../../state/server.testing";
import { FormulaText } from "./FormulaText";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const onEdit = vi.fn();
const step = { id: "s1", name: "turn", alike: 3 } as unknown as StepView;
const number = "number 1 of turn";
const changed = (value: number, alike = false) => ({ do: "change number", step: "s1", place: 0, value, alike });

beforeEach(() => {
  server = standIn();
  useOpenScene.setState({ sceneId: 7, order: [], parts: {} });
  hand = page();
  hand.show(<FormulaText step={step} text="0.5 * {hull.size} + 20" reads={[]} onEdit={onEdit} />);
  onEdit.mockClear();
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); feed.tryOut([]); });
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("drags a number in the formula, further with Shift, in all that are alike with Ctrl", async () => {
  hand.point(number, "down", 100);
  hand.point(number, "move", 110);
  const [first] = feed.allTried();
  expect(first).toMatchObject({ do: "change number", place: 0, alike: false });
  const by = (first as { value: number }).value - 0.5;
  expect(by).toBeGreaterThan(0);
  hand.point(number, "move", 110, { shiftKey: true, ctrlKey: true });
  expect(feed.allTried()).toMatchObject([{ alike: true }]);
  expect((feed.allTried()[0] as { value: number }).value - 0.5).toBeCloseTo(10 * by);
  hand.point(number, "up", 110, { ctrlKey: true });
  await server.settled();
  expect(server.edits()).toMatchObject([{ do: "change number", alike: true }]);
  expect([onEdit.mock.calls.length, hand.has("Value of the number")]).toEqual([0, false]);
});

it("stores nothing that is brought back to its value, or given up", async () => {
  for (const end of [() => { hand.point(number, "move", 100); hand.point(number, "up", 100); }, () => { hand.press("Escape"); }, () => { hand.point(number, "cancel", 0); }]) {
    hand.point(number, "down", 100);
    hand.point(number, "move", 150);
    end();
    expect([feed.allTried(), hand.labelled(number).textContent]).toEqual([[], "0.5"]);
  }
  hand.point(number, "down", 100, { button: 2 });
  hand.point(number, "move", 150);
  await server.settled();
  expect([feed.allTried(), server.edits()]).toEqual([[], []]);
});

it("counts every arrow key, though the one before is still under way", async () => {
  act(() => { (hand.labelled(number) as HTMLElement).focus(); });
  for (const key of ["ArrowUp", "ArrowUp", "ArrowUp", "ArrowDown"]) hand.press(key);
  const shown = Number(hand.labelled(number).textContent);
  await server.settled();
  const values = server.edits().map((edit) => (edit as { value: number }).value - 0.5);
  const [one = 0] = values;
  expect(one).toBeGreaterThan(0);
  expect(values.map((value) => Math.round(value / one))).toEqual([1, 2, 3, 2]);
  expect(shown - 0.5).toBeCloseTo(2 * one);
});

it("opens a form for a number by a click or Enter, and the editor by a click elsewhere", async () => {
  hand.point(number, "down", 100);
  hand.point(number, "up", 100);
  await server.settled();
  hand.fill("Value of the number", "0.75");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([changed(0.75)]);
  act(() => { (hand.labelled("number 2 of turn") as HTMLElement).focus(); });
  hand.press("Enter");
  await server.settled();
  expect(hand.has("Value in all alike")).toBe(true);
  expect(onEdit).not.toHaveBeenCalled();
  act(() => { [...document.querySelectorAll("span")].find(({ textContent }) => textContent === "hull.size")?.click(); });
  expect(onEdit).toHaveBeenCalledOnce();
});
