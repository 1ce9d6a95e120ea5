// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView } from "../api/client";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { choosePart, useSelection } from "../state/selection";
import { useCommands } from "./commandList";
import { Palette } from "./Palette";

const done = vi.fn<(what: string) => void>();
const part = (id: string, name: string, ...channels: string[]) => ({ id, name, channels: channels.map((one) => ({ id: one, name: one })) }) as unknown as PartView;

function Page() {
  useCommands("test", () => [
    { name: "Mute the chosen step", shortcut: "mute", run: () => { done("mute"); } },
    { name: "Wheel out", run: () => { done("wheel out"); } },
  ]);
  return <Palette />;
}

let hand: ReturnType<typeof page>;
const field = "Name of a part, channel or command";
const found = () => [...document.querySelectorAll("[role=option]")].map(({ firstElementChild }) => firstElementChild?.textContent);
const marked = () => document.querySelector("[aria-selected=true]");

beforeEach(() => {
  const parts = { p1: part("p1", "wheel", "rotation.z"), p2: part("p2", "wheel shaft", "turns"), p3: part("p3", "hull", "rotation.z") };
  useOpenScene.setState({ sceneId: 7, order: ["p1", "p2", "p3"], parts });
  hand = page();
  hand.show(<Page />);
  hand.press("/");
  done.mockClear();
});
afterEach(() => {
  hand.close();
  act(() => { choosePart(null); });
  closeScene();
});

it("opens by its key, and finds what holds all words: parts, then commands, then channels, short names first", () => {
  expect(document.activeElement).toBe(hand.field(field));
  expect(found().slice(0, 3)).toEqual(["wheel", "wheel shaft", "hull"]);
  hand.type("WHEEL");
  expect(found()).toEqual(["wheel", "wheel shaft", "Wheel out", "wheel.rotation.z", "wheel shaft.turns"]);
  hand.type("z hull");
  expect(found()).toEqual(["hull.rotation.z"]);
  hand.type("no such thing");
  expect(hand.said()).toContain("Nothing has that name.");
});

it("chooses with arrows and Enter, and says which one is meant to those who hear it", () => {
  hand.type("wheel");
  hand.press("ArrowUp");
  hand.press("ArrowDown");
  expect([marked()?.firstElementChild?.textContent, hand.field(field).getAttribute("aria-activedescendant")]).toEqual(["wheel shaft", marked()?.id]);
  hand.press("Enter");
  expect([useSelection.getState().part, hand.has("Palette")]).toEqual(["p2", false]);
});

it("begins again with another search, and Enter on nothing does nothing", () => {
  hand.type("wheel");
  for (let n = 0; n < 9; n += 1) hand.press("ArrowDown");
  expect(marked()?.firstElementChild?.textContent).toBe(found().at(-1));
  hand.type("nothing here");
  hand.press("ArrowDown");
  hand.type("mute");
  expect(marked()?.firstElementChild?.textContent).toBe("Mute the chosen step");
  hand.press("Enter");
  expect(done.mock.calls).toEqual([["mute"]]);
  hand.press("/");
  hand.type("nothing here");
  hand.press("Enter");
  expect([done.mock.calls.length, hand.has("Palette")]).toEqual([1, false]);
});

it("keeps the marked one in sight", () => {
  const shown = vi.spyOn(Element.prototype, "scrollIntoView");
  hand.press("ArrowDown");
  expect(shown.mock.contexts.at(-1)).toBe(marked());
  shown.mockRestore();
});

it("closes on Esc and does nothing", () => {
  hand.type("hull");
  hand.press("Escape");
  expect([hand.has("Palette"), useSelection.getState().part]).toEqual([false, null]);
});

it("has room for commands beside many parts, and says how many more have the name", () => {
  const order = Array.from({ length: 70 }, (_, n) => `q${String(n)}`);
  const parts = Object.fromEntries(order.map((id) => [id, part(id, `stepping ${id}`, "step")]));
  act(() => { useOpenScene.setState({ order, parts }); });
  hand.type("step");
  expect(found()).toContain("Mute the chosen step");
  expect(hand.said()).toContain(`and ${String(70 + 1 + 70 - found().length)} more`);
  hand.type("step q69");
  expect(found()).toEqual(["stepping q69", "stepping q69.step"]);
  expect(hand.said()).not.toContain("more");
});
