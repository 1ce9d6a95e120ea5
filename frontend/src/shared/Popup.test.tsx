// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it } from "vitest";

import { openPopup, usePopup } from "../state/popup";
import { NumberField } from "./NumberField";
import { page } from "./page.testing";
import { Popup } from "./Popup";
import { TextField } from "./TextField";

let hand: ReturnType<typeof page>;
let sent: string[] = [];
const sends = (text: string) => {
  sent.push(text);
  return Promise.resolve(true);
};

function Two() {
  return (
    <>
      <Popup title="Values" content={(close) => <><input aria-label="first" /><button id="do" onClick={close}>do</button><input aria-label="last" /></>}>
        <button id="values">Values…</button>
      </Popup>
      <Popup title="Names" content={() => <><TextField label="name" value="arm" onCommit={sends} /><NumberField label="size" value={2} text="2" onCommit={(value) => { sent.push(String(value)); }} /></>}>
        <button id="names">Names…</button>
      </Popup>
      <Popup label="Time" id="time" content={() => <span>no field here</span>}>
        <button id="times">Time…</button>
      </Popup>
      <Popup byHand label="Number" id="number" content={() => <input aria-label="factor" />}>
        <span id="number">0.5</span>
      </Popup>
      <Popup label="Locked" content={() => <span>locked</span>}>
        <button id="locked" disabled><b id="lock">Lock…</b></button>
      </Popup>
    </>
  );
}

/** Lets a picture go by, in which the keyboard comes into what has opened. */
const settle = () => act(async () => { for (let n = 0; n < 3; n += 1) await new Promise((done) => { requestAnimationFrame(() => { done(null); }); }); });
const on = (id: string) => document.getElementById(id);
const keyboard = () => document.activeElement?.getAttribute("aria-label") ?? document.activeElement?.id;
const dialogs = () => [...document.querySelectorAll("[role=dialog]")].filter((one) => !one.closest(".ant-popover-hidden, [style*='display: none']"));

async function click(id: string) {
  act(() => {
    on(id)?.focus();
    on(id)?.click();
  });
  await settle();
}

/** The mouse goes down and up at something. */
async function pressed(there: HTMLElement | null) {
  act(() => {
    for (const way of ["pointerdown", "mousedown", "pointerup", "mouseup", "click"]) there?.dispatchEvent(new MouseEvent(way, { bubbles: true, composed: true }));
  });
  await settle();
}

beforeEach(() => {
  sent = [];
  hand = page();
  hand.show(<Two />);
});
afterEach(() => {
  hand.close();
  usePopup.setState({ open: null });
});

it("takes the keyboard while it is open, and gives it back when Esc closes it", async () => {
  await click("values");
  expect([keyboard(), dialogs().length, hand.said()]).toEqual(["first", 1, expect.stringContaining("Values")]);
  act(() => { window.dispatchEvent(new KeyboardEvent("keydown", { key: "Escape", cancelable: true })); });
  await settle();
  expect([usePopup.getState().open, keyboard()]).toEqual([null, "values"]);
});

it.each(["values", "number"])("is closed by a click beside %s, not by one inside", async (id) => {
  if (id === "number") act(() => { openPopup(id); });
  else await pressed(on(id));
  await settle();
  expect(dialogs()).toHaveLength(1);
  await pressed(hand.labelled(id === "number" ? "factor" : "last") as HTMLElement);
  expect(dialogs()).toHaveLength(1);
  await pressed(document.body);
  expect([dialogs().length, usePopup.getState().open]).toEqual([0, null]);
});

it.each([["name", "leg", "leg"], ["size", "5", "5"]])("takes what is typed into %s when a click beside closes it, and the keyboard goes back", async (label, text, taken) => {
  await click("names");
  hand.fill(label, text);
  await pressed(document.body);
  expect([sent, dialogs().length, keyboard()]).toEqual([[taken], 0, "names"]);
});

it("takes what is typed when another one opens", async () => {
  await click("names");
  hand.fill("size", "5");
  act(() => { openPopup("time"); });
  await settle();
  expect([sent, dialogs().length, keyboard()]).toEqual([["5"], 1, "Time"]);
});

it("is closed by another click on what it hangs from, and opened by the next", async () => {
  for (const there of [1, 0, 1]) {
    await pressed(on("values"));
    expect(dialogs()).toHaveLength(there);
  }
});

it("hangs from nothing that is disabled", async () => {
  await pressed(on("lock"));
  expect(usePopup.getState().open).toBe(null);
});

it("keeps the keyboard inside, round its ends", async () => {
  await click("values");
  hand.press("Tab", { shiftKey: true });
  expect(keyboard()).toBe("last");
  hand.press("Tab");
  expect(keyboard()).toBe("first");
});

it("closes when its work is done", async () => {
  await click("values");
  await click("do");
  expect([usePopup.getState().open, keyboard()]).toEqual([null, "values"]);
});

it("is open alone: another one that opens closes it, and what else may open it does", async () => {
  await click("values");
  act(() => { openPopup("time"); });
  await settle();
  expect(usePopup.getState().open).toBe("time");
  expect(hand.said()).toContain("no field here");
  // Without a field it has the keyboard itself.
  expect(keyboard()).toBe("Time");
});

it.each([["name", "leg"], ["size", "5"]])("puts back what is typed into %s by Esc, sends nothing of it, and closes by the next", async (label, text) => {
  await click("names");
  hand.fill(label, text);
  hand.press("Escape");
  await settle();
  expect([hand.field(label).value, usePopup.getState().open === null]).toEqual([label === "name" ? "arm" : "2", false]);
  hand.press("Escape");
  await settle();
  expect([sent, usePopup.getState().open]).toEqual([[], null]);
});

it("closes by the first Esc where nothing was typed into the field that has the keyboard", async () => {
  for (const label of ["name", "size"]) {
    await click("names");
    hand.enter(label);
    hand.press("Escape");
    await settle();
    expect([sent, usePopup.getState().open]).toEqual([[], null]);
  }
});
