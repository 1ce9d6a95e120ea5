// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView, SceneHeader } from "../api/client";
import { page } from "../shared/page.testing";
import { useKeyState } from "../state/keying";
import { closeForm, openForm, useKit } from "../state/kit";
import { closeScene, useOpenScene } from "../state/openScene";
import { chooseChannel, choosePart, chooseParts, useSelection } from "../state/selection";
import { standIn } from "../state/server.testing";
import { Kit } from "./Kit";
import { KitForm } from "./KitForm";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const usual = useKit.getState();
const channel = (id: string, more: object = {}) => ({ id, name: id, unit: "", locked: false, curve: null, on_layers: {}, ...more });
const part = (id: string, name: string, ...channels: object[]) => ({ id, name, steps: [], shape: {}, channels }) as unknown as PartView;
const set = (id: string, name: string, parts: string[], channels: [string, string][] = []) => ({ id, name, colour: "#C9A66B", parts, channels });
const header = (more: object) => { act(() => { useOpenScene.setState((scene) => ({ header: { ...scene.header, ...more } as SceneHeader })); }); };
const names = (kind: string) => [...document.querySelectorAll(`section[aria-label="${kind}"] li button[data-stop]`)].map(({ textContent }) => textContent);
const focused = () => document.activeElement?.getAttribute("aria-label");
const focus = (label: string) => { act(() => { (hand.labelled(label) as HTMLElement).focus(); }); };

beforeEach(() => {
  server = standIn();
  const parts = { p1: part("p1", "hull", channel("size", { on_layers: { l2: { keys: [] } } }), channel("turn")), p2: part("p2", "mast", channel("size")) };
  useOpenScene.setState({ sceneId: 7, order: ["p1", "p2"], parts });
  hand = page();
  hand.show(<><Kit /><KitForm /></>);
  header({
    sets: [set("g1", "deck", ["p1", "p2"]), set("g2", "switches", [], [["p1", "turn"]])],
    layers: [{ id: "l1", name: "block", part: "p1", mode: "add", on: true }, { id: "l2", name: "flow", part: "p1", mode: "replace", on: true }],
  });
});
afterEach(() => {
  hand.close();
  act(() => { closeForm(); choosePart(null); });
  useKit.setState(usual, true);
  useKeyState.setState({ layer: null, scope: "channel" });
  closeScene();
  vi.unstubAllGlobals();
});

it("lists kinds with their count, layers from the highest, and finds by name and note in folded ones too", () => {
  expect([names("sets"), names("layers")]).toEqual([["deck", "switches"], ["flow", "block"]]);
  hand.click("sets, 2");
  expect(names("sets")).toEqual([]);
  hand.fill("Find in the kit", "2 PARTS");
  expect([names("sets"), names("layers"), hand.said().includes("1 of 2")]).toEqual([["deck"], [], true]);
});

it("walks by arrows over heads and names, opens a form, and closes it by Esc", () => {
  focus("sets, 2");
  for (const name of ["set deck", "set switches", "layers, 2", "layer flow"]) {
    hand.press("ArrowDown");
    expect(focused()).toBe(name);
  }
  hand.press("ArrowUp");
  hand.press("ArrowUp");
  expect(focused()).toBe("set switches");
  hand.click("set switches");
  expect(hand.has("Set switches")).toBe(true);
  focus("Form of the set");
  hand.press("Escape");
  expect(hand.has("Set switches")).toBe(false);
});

it("renames by F2, and keeps colour and members", async () => {
  focus("set deck");
  hand.press("F2");
  hand.fill("New name of the set deck", "deck crew");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "put set", id: "g1", name: "deck crew", colour: "#C9A66B", parts: ["p1", "p2"], channels: [] }]);
});

it("deletes by key or button, and shows what a thing is about", async () => {
  hand.click("Show the layer flow");
  expect([useSelection.getState().parts, useKit.getState().open]).toEqual([["p1"], { kind: "layers", id: "l2" }]);
  focus("layer block");
  hand.press("Delete");
  hand.click("Delete the set deck in the list");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "remove layer", layer: "l1" }, { do: "remove set", id: "g1" }]);
});

it("opens the form of what was made, and closes that of what others took away", async () => {
  act(() => { chooseParts(["p2"]); openForm("sets", null); });
  hand.enter("Name of the new set");
  hand.press("Enter");
  hand.type(" rig ");
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "put set", name: "rig", parts: ["p2"], channels: [] }]);
  header({ sets: [set("g1", "deck", []), set("g2", "switches", []), set("g3", "rig", ["p2"])] });
  expect(useKit.getState().open).toEqual({ kind: "sets", id: "g3" });
  header({ sets: [] });
  expect(useKit.getState().open).toBeNull();
});

it("puts members into a set and takes them out, and makes it the key scope", async () => {
  act(() => { openForm("sets", "g2"); chooseChannel("p2", "size"); });
  hand.click("+ channel");
  hand.click("+ parts");
  hand.click("Take hull.turn out of the set");
  await server.settled();
  expect(server.edits()).toMatchObject([{ channels: [["p1", "turn"], ["p2", "size"]] }, { parts: ["p2"] }, { channels: [] }]);
  hand.click("scope");
  expect(useKeyState.getState().scope).toBe("set:g2");
  hand.click("scope");
  expect(useKeyState.getState().scope).toBe("channel");
});

it("sends keys to a layer, says how much it holds, and moves, mutes and merges it", async () => {
  act(() => { openForm("layers", "l2"); chooseChannel("p1", "turn"); });
  expect(hand.said()).toContain("1 channel");
  hand.click("Keys go to flow");
  expect(useKeyState.getState().layer).toBe("l2");
  for (const name of ["↓", "+ channel", "merge down"]) hand.click(name);
  await server.settled();
  expect(server.edits()).toEqual([
    { do: "move layer", layer: "l2", position: 0 },
    { do: "hold channel", layer: "l2", part: "p1", channel: "turn", frame: 0, held: true },
    { do: "merge layer", layer: "l2" },
  ]);
});
