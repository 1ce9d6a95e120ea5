// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it } from "vitest";

import { page } from "../shared/page.testing";
import { useEscape } from "../shared/useEscape";
import type { ShortcutName } from "./shortcuts";
import { changeKeys, useShortcuts, usualKeys } from "./shortcuts";

let hand: ReturnType<typeof page>;
let done: string[] = [];
const commands: ShortcutName[] = ["play", "back", "keyForth", "key", "none", "undo", "redo", "find", "landmark"];

/** Everything that may have the keyboard, on a page whose commands say that they ran. */
function Everything() {
  useShortcuts(Object.fromEntries(commands.map((command) => [command, () => { done.push(command); }])));
  return (
    <>
      <input aria-label="text" />
      <input aria-label="switch" type="checkbox" />
      <input aria-label="number" data-number data-touched="false" />
      <input aria-label="touched" data-number data-touched="true" />
      <button id="button">do</button>
      <div id="tree" role="tree" tabIndex={0} />
      <div id="list" role="combobox" aria-expanded="true" aria-controls="tree" tabIndex={0} />
      <div data-popup><button id="inside">do</button></div>
      <div id="own" data-own="key find" tabIndex={0} />
      <div id="plain" tabIndex={0} />
    </>
  );
}

/** Presses a key where this has the keyboard. Returns the commands that ran. */
function pressed(where: string, key: string, held: KeyboardEventInit = {}): string[] {
  done = [];
  act(() => { (document.getElementById(where) ?? hand.field(where)).focus(); });
  hand.press(key, held);
  return done;
}

const ctrl = { ctrlKey: true };

beforeEach(() => {
  hand = page();
  hand.show(<Everything />);
});
afterEach(() => {
  usualKeys();
  hand.close();
});

it("runs commands by their keys where nothing else takes them", () => {
  expect(pressed("plain", "d")).toEqual(["key"]);
  expect(pressed("plain", "D", { shiftKey: true })).toEqual([]);
  expect(pressed("plain", "ArrowRight", { shiftKey: true })).toEqual(["keyForth"]);
  expect(pressed("plain", "z", ctrl)).toEqual(["undo"]);
  expect(pressed("plain", "Z", { ...ctrl, shiftKey: true })).toEqual(["redo"]);
  expect(pressed("plain", "d", { altKey: true })).toEqual([]);
  expect(changeKeys("key", "G")).toBeNull();
  expect([pressed("plain", "d"), pressed("plain", "g")]).toEqual([[], ["key"]]);
});

it("leaves letters, arrows and undo to what is typed into; a number in which nothing was typed has no undo of its own", () => {
  for (const key of ["d", "/", " ", "ArrowLeft"]) expect(pressed("text", key)).toEqual([]);
  expect(pressed("text", "z", ctrl)).toEqual([]);
  expect([pressed("number", "z", ctrl), pressed("touched", "z", ctrl), pressed("number", "d")]).toEqual([["undo"], [], []]);
});

it("leaves Space to buttons and switches, and arrows to trees", () => {
  expect([pressed("button", " "), pressed("switch", " "), pressed("button", "d"), pressed("switch", "d")]).toEqual([[], [], ["key"], ["key"]]);
  expect([pressed("tree", "ArrowLeft"), pressed("tree", " "), pressed("plain", "ArrowLeft")]).toEqual([[], ["play"], ["back"]]);
});

it("leaves all keys but the way to the next panel to popups and open lists", () => {
  for (const where of ["inside", "list"]) {
    for (const key of ["d", "ArrowLeft", "Escape"]) expect(pressed(where, key)).toEqual([]);
    expect(pressed(where, "F6")).toEqual(["landmark"]);
  }
  expect(pressed("text", "F6")).toEqual(["landmark"]);
});

it("leaves a command's keys to what does something of its own for it", () => {
  expect([pressed("own", "d"), pressed("own", "/"), pressed("own", "Escape")]).toEqual([[], [], ["none"]]);
});

it("gives Esc to what is dragged first, and once", () => {
  let dropped = 0;
  let watch: () => void = () => undefined;
  function Dragged() {
    const escape = useEscape();
    watch = () => { escape.watch(() => { dropped += 1; }); };
    return null;
  }
  hand.show(<><Everything /><Dragged /></>);
  watch();
  expect([pressed("plain", "Escape"), dropped]).toEqual([[], 1]);
  expect([pressed("plain", "Escape"), dropped]).toEqual([["none"], 1]);
});

it("ends with the component", () => {
  hand.show(<div id="plain" tabIndex={0} />);
  expect(pressed("plain", "d")).toEqual([]);
});
