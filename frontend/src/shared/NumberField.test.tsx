// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { closeScene, useOpenScene } from "../state/openScene";
import { useWaiting } from "../state/waiting";
import { NumberField } from "./NumberField";
import { page } from "./page.testing";

let hand: ReturnType<typeof page>;
/** What was saved, what was only tried, and how often that was given up. */
let saved: number[] = [];
let tried: number[] = [];
let dropped = 0;

type More = Partial<Parameters<typeof NumberField>[0]>;

function field(label: string, value: number, more: More = {}) {
  return (
    <NumberField key={label} label={label} value={value} text={String(value)} step={0.5} onTry={(now) => tried.push(now)} onCancel={() => { dropped += 1; }} onCommit={(now) => saved.push(now)} {...more} />
  );
}

const show = (value: number, more: More = {}) => { hand.show(<div data-fields>{field("x", value, more)}{field("y", 7)}</div>); };
const at = (label = "x") => hand.field(label).value;
const keyboard = () => document.activeElement?.getAttribute("aria-label") ?? null;

beforeEach(() => {
  [saved, tried, dropped] = [[], [], 0];
  hand = page();
  HTMLElement.prototype.setPointerCapture = () => undefined;
});
afterEach(() => {
  vi.useRealTimers();
  hand.close();
  closeScene();
});

it("shows all digits for typing, applies on Enter once, and gives the keyboard back", () => {
  show(1 / 3, { text: "0.333" });
  expect(at()).toBe("0.333");
  hand.enter("x");
  expect(at()).toBe("0.3333333333333333");
  hand.type("2*3+1");
  hand.press("Enter");
  expect([saved, keyboard()]).toEqual([[7], null]);
  hand.leave();
  expect(saved).toEqual([7]);
});

it("shows what was applied until it is stored, or refused", () => {
  const edits = (count: number) => { act(() => { useWaiting.setState({ edits: count }); }); };
  const send = { onCommit: () => { useWaiting.setState(({ edits: more }) => ({ edits: more + 1 })); } };
  show(2, send);
  hand.fill("x", "3*3");
  hand.press("Enter");
  expect(at()).toBe("9");
  show(9, { ...send, text: "9.000" });
  edits(0);
  expect(at()).toBe("9.000");
  hand.fill("x", "4");
  hand.leave();
  expect(at()).toBe("4");
  edits(0);
  expect(at()).toBe("9.000");
  // Another's edit is none of its own.
  edits(1);
  expect(at()).toBe("9.000");
  edits(0);
});

it("saves nothing on Esc, nor where nothing was typed, nor where it is left with the same number", () => {
  show(2);
  for (const act of [() => { hand.type("5"); hand.press("Escape"); }, () => { hand.leave(); }, () => { hand.press("Escape"); }, () => { hand.type("2.0"); hand.leave(); }]) {
    hand.enter("x");
    act();
    expect([saved, keyboard(), at()]).toEqual([[], null, "2"]);
  }
});

it("takes Enter on the present number as meant where something was typed, or values differ", () => {
  show(2);
  hand.enter("x");
  hand.press("Enter");
  expect(saved).toEqual([]);
  hand.fill("x", "2.0");
  hand.press("Enter");
  expect(saved).toEqual([2]);
  show(2, { meant: true, text: "several" });
  hand.enter("x");
  hand.press("Enter");
  expect(saved).toEqual([2, 2]);
});

it("applies what is typed on the way to another field, by Tab within the group and by leaving", () => {
  show(2);
  hand.fill("x", "3");
  hand.press("Tab");
  expect([saved, keyboard()]).toEqual([[3], "y"]);
  hand.press("Tab", { shiftKey: true });
  expect([saved, keyboard()]).toEqual([[3], "x"]);
  hand.type("4");
  hand.leave();
  expect(saved).toEqual([3, 4]);
});

it("applies the present number on the way out too, where it was typed and is meant", () => {
  show(2, { meant: true });
  hand.enter("x");
  hand.leave();
  expect(saved).toEqual([]);
  hand.fill("x", "2");
  hand.press("Tab");
  hand.fill("x", "2");
  hand.leave();
  expect(saved).toEqual([2, 2]);
});

it("marks what is no number, keeps the keyboard, and puts the number back with a word on leaving", () => {
  show(2);
  hand.fill("x", "2+");
  hand.press("Enter");
  expect([saved, keyboard(), hand.field("x").getAttribute("aria-invalid")]).toEqual([[], "x", "true"]);
  hand.type("2+2");
  expect(hand.field("x").getAttribute("aria-invalid")).toBe("false");
  hand.type("abc");
  hand.leave();
  expect([saved, at()]).toEqual([[], "2"]);
  expect(hand.said()).toContain("x: “abc” is no number; 2 was put back.");
});

it.each([["+=5", false, 15], ["/=4", false, 2.5], ["+5", true, 15], ["*2", true, 20], ["+5", false, 5], ["-5", true, -5], ["1e3", false, 1000], ["−4,5°", false, -4.5]])(
  "reads %s (changes: %s) on 10 as %d", (text, relative, wanted) => {
    show(10, { relative });
    hand.fill("x", text);
    hand.press("Enter");
    expect(saved).toEqual([wanted]);
  },
);

it.each(["1/0", "--", "", " ", "1e999", "2(3)", "0x10"])("does not read %s", (text) => {
  show(10);
  hand.fill("x", text);
  hand.press("Enter");
  expect([saved, keyboard()]).toEqual([[], "x"]);
});

it("steps by arrow keys from what is typed, ten times with Shift and a tenth with Alt", () => {
  show(2);
  hand.enter("x");
  hand.press("ArrowUp");
  show(2.5);
  hand.press("ArrowUp", { shiftKey: true });
  show(7.5);
  hand.press("ArrowDown", { altKey: true });
  show(7.45);
  expect(saved).toEqual([2.5, 7.5, 7.45]);
  hand.type("1");
  hand.press("ArrowDown");
  expect(saved.at(-1)).toBe(0.5);
  // What was stepped is saved already: leaving says nothing more.
  show(0.5);
  hand.leave();
  expect(saved).toHaveLength(4);
});

it("asks before it writes over what somebody else made of the value meanwhile", () => {
  show(2);
  hand.fill("x", "3");
  show(9);
  hand.press("Enter");
  expect([saved, keyboard(), at()]).toEqual([[], "x", "3"]);
  hand.press("Enter");
  expect([saved, keyboard()]).toEqual([[3], null]);
  show(9);
  hand.fill("x", "4");
  show(10);
  hand.leave();
  expect(saved).toEqual([3]);
  expect(hand.said()).toContain("It was changed elsewhere to 10 meanwhile; your 4 was not written.");
});

it("follows the value, also on another frame, as long as nothing was typed", () => {
  show(2, { stamp: "a" });
  hand.enter("x");
  show(5, { stamp: "b" });
  expect(at()).toBe("5");
  hand.type("6");
  // Another frame is no change by others.
  show(8, { stamp: "b" });
  hand.press("Enter");
  expect(saved).toEqual([6]);
});

it("is dragged sideways: tried on the way, saved once where it is let go", () => {
  show(2);
  hand.point("x", "down", 100);
  hand.point("x", "move", 102);
  expect(tried).toEqual([]);
  for (const x of [110, 120]) hand.point("x", "move", x);
  hand.point("x", "move", 121, { shiftKey: true });
  expect([tried, at(), keyboard()]).toEqual([[7, 12, 107], "107", null]);
  hand.point("x", "up", 121);
  expect([saved, dropped]).toEqual([[107], 0]);
  hand.leave();
  expect(saved).toEqual([107]);
});

it("keeps its hint out of the way while it is dragged", async () => {
  vi.useFakeTimers();
  show(2, { hint: "what is edited is its own value" });
  const hint = async () => {
    await act(() => vi.advanceTimersByTimeAsync(500));
    return document.querySelector(".ant-tooltip:not(.ant-tooltip-hidden)")?.textContent ?? null;
  };
  const pointer = (way: "over" | "out") => { act(() => { for (const kind of ["mouse", "pointer"]) hand.field("x").dispatchEvent(new MouseEvent(kind + way, { bubbles: true })); }); };
  pointer("over");
  expect(await hint()).toBe("what is edited is its own value");
  hand.point("x", "down", 100);
  hand.point("x", "move", 110);
  expect(await hint()).toBeNull();
  hand.point("x", "up", 110);
  pointer("out");
  pointer("over");
  expect([saved, await hint()]).toEqual([[7], "what is edited is its own value"]);
});

it("gives a drag up on Esc, and where it comes back to where it began", () => {
  show(2);
  hand.point("x", "down", 100);
  hand.point("x", "move", 110);
  hand.press("Escape");
  expect([dropped, at()]).toEqual([1, "2"]);
  hand.point("x", "move", 130);
  hand.point("x", "up", 130);
  expect([saved, tried]).toEqual([[], [7]]);
  hand.point("x", "down", 100);
  for (const x of [110, 100]) hand.point("x", "move", x);
  hand.point("x", "up", 100);
  expect([saved, dropped]).toEqual([[], 2]);
});

it("takes a press that does not move for the wish to type, and other buttons for nothing", () => {
  show(2);
  hand.point("x", "down", 100, { button: 2 });
  hand.point("x", "move", 150, { button: 2 });
  expect([keyboard(), tried]).toEqual([null, []]);
  hand.point("x", "down", 100);
  hand.point("x", "up", 101);
  expect(keyboard()).toBe("x");
});

it("shows a fixed value that neither hand nor key changes", () => {
  show(2, { fixed: true });
  hand.point("x", "down", 100);
  hand.point("x", "move", 150);
  hand.point("x", "up", 150);
  hand.enter("x");
  hand.press("ArrowUp");
  hand.press("Enter");
  expect([saved, tried, at(), keyboard()]).toEqual([[], [], "2", null]);
});

it("edits metres and degrees as the scene is looked at, and saves metres and degrees", () => {
  const { header } = useOpenScene.getState();
  useOpenScene.setState({ header: { ...header, units: { length: "cm", angle: "turns" } } });
  hand.show(<div data-fields>{field("x", 1.5, { unit: "m" })}{field("y", 90, { unit: "°" })}</div>);
  hand.enter("x");
  expect(at()).toBe("150");
  for (const [text, metres] of [["20", 0.2], ["2 m", 2], ["5mm", 0.005], ["+=10", 1.6]] as const) {
    hand.fill("x", text);
    hand.press("Enter");
    expect(saved.at(-1)).toBeCloseTo(metres, 12);
  }
  hand.enter("y");
  expect(at("y")).toBe("0.25");
  hand.type("0.5");
  hand.press("Enter");
  expect(saved.at(-1)).toBe(180);
  hand.fill("y", "45°");
  hand.press("Enter");
  expect(saved.at(-1)).toBe(45);
});
