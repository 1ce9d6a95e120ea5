// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it } from "vitest";

import { page } from "../shared/page.testing";
import { closePopup, openPopup } from "../state/popup";
import { ShortcutList } from "./ShortcutList";
import { usualKeys } from "./shortcuts";

let hand: ReturnType<typeof page>;
const named = (keys: string) => `${keys}: play and stop`;
const waits = () => document.querySelector("[data-takes-keys]") !== null;

beforeEach(() => {
  hand = page();
  hand.show(<ShortcutList />);
  act(() => { openPopup("shortcuts"); });
});
afterEach(() => {
  act(() => { closePopup("shortcuts"); usualKeys(); });
  hand.close();
});

/** Clicks on a command's keys, as a hand that then presses others. */
function click(name: string) {
  act(() => { (hand.labelled(name) as HTMLElement).focus(); });
  hand.click(name);
}

it("gives a command the keys that are pressed next, unless another has them", () => {
  click(named("Space"));
  hand.press("q");
  expect([hand.has(named("Q")), waits()]).toEqual([true, false]);
  click(named("Q"));
  hand.press("w");
  expect(hand.said()).toContain("W is “give the view the whole window, and come back”; give that other keys first");
  expect(hand.has(named("Q"))).toBe(true);
});

it("leaves Tab and Enter to who goes through the page by keyboard", () => {
  click(named("Space"));
  const tab = new KeyboardEvent("keydown", { key: "Tab", bubbles: true, cancelable: true });
  act(() => { document.activeElement?.dispatchEvent(tab); });
  hand.leave();
  expect([tab.defaultPrevented, waits(), hand.has(named("Space"))]).toEqual([false, false, true]);
  click(named("Space"));
  hand.press("Enter");
  hand.press("Escape");
  expect([waits(), hand.has(named("Space"))]).toEqual([false, true]);
});
