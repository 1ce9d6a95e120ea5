// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PartView, SceneHeader } from "../../api/client";
import { page } from "../../shared/page.testing";
import { closeScene, useOpenScene } from "../../state/openScene";
import { goTo, setRange } from "../../state/player";
import { usePopup } from "../../state/popup";
import { feed } from "../../state/samples";
import { chooseChannel, chooseKeys, choosePart } from "../../state/selection";
import { standIn } from "../../state/server.testing";
import { KeyTools } from "./KeyTools";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const picks = [{ part: "p1", channel: "lift", frames: [10, 20] }];
const key = (frame: number) => ({ frame, value: 1 });
const hull = { id: "p1", name: "hull", channels: [{ id: "lift", name: "lift", unit: "m", on_layers: {}, curve: { keys: [10, 20, 30].map(key) } }] };
const waits = (name: string) => [...document.querySelectorAll("button")].find(({ textContent }) => textContent === name)?.disabled;
const open = async (name: string) => {
  hand.click(name);
  await server.settled();
};

beforeEach(() => {
  server = standIn();
  useOpenScene.setState(({ header }) => ({ sceneId: 7, order: ["p1"], parts: { p1: hull as unknown as PartView }, header: { ...header, first: 0, last: 60, units: { length: "mm" } } as SceneHeader }));
  setRange({ first: 0, last: 60, fps: 24 });
  goTo(16);
  hand = page();
  hand.show(<KeyTools />);
  act(() => { chooseChannel("p1", "lift"); chooseKeys(picks); });
});
afterEach(() => {
  act(() => { usePopup.setState({ open: null }); });
  hand.close();
  act(() => { choosePart(null); feed.tryOut([]); });
  setRange({ first: 0, last: 0, fps: 24 });
  closeScene();
  vi.unstubAllGlobals();
});

it("says on which keys it works: those chosen, or those of the key scope", async () => {
  await open("Time…");
  expect(hand.said()).toContain("Time: 2 keys");
  act(() => { chooseKeys([]); });
  expect(hand.said()).toContain("Time: 3 keys of the key scope");
  hand.click("Insert");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "insert frames", at: 16, count: 4, picks: [{ part: "p1", channel: "lift", frames: null }] }]);
});

it("scales about a frame, pauses, crops, and puts frames into the whole scene, each once", async () => {
  const by: [Record<string, string>, string][] = [
    [{ "scale by": "3/2" }, "Scale"],
    [{ frames: "6" }, "Pause"],
    [{ to: "30" }, "Crop"],
    [{ frames: "5" }, "Insert frames"],
    [{ "at frame": "8", frames: "4" }, "Take out frames"],
  ];
  for (const [fields, button] of by) {
    await open("Time…");
    for (const [field, text] of Object.entries(fields)) hand.fill(field, text);
    hand.click(button);
    await server.settled();
    expect(usePopup.getState().open).toBeNull();
  }
  expect(server.edits()).toEqual([
    { do: "scale time", picks, about: 16, factor: 1.5 },
    { do: "insert frames", at: 16, count: 6, picks, pause: true },
    { do: "crop keys", first: 16, last: 30, picks },
    { do: "insert frames", at: 16, count: 5 },
    { do: "take out frames", first: 8, count: 4 },
  ]);
});

it("waits with what reads a number that is none, and with that alone", async () => {
  await open("Time…");
  hand.fill("scale by", "twice");
  expect([waits("Scale"), waits("Scale, snap"), waits("Pause"), waits("Crop")]).toEqual([true, true, false, false]);
});

it("adds to and scales values in the unit that is looked at", async () => {
  await open("Values…");
  hand.fill("add", "250");
  hand.click("Add to values");
  await server.settled();
  await open("Values…");
  hand.click("Scale");
  await server.settled();
  expect(server.edits()).toEqual([
    { do: "move keys", picks, value: 0.25 },
    { do: "scale values", picks, factor: 0.5, about: "average", value: 0, frame: null },
  ]);
});

it("goes by degrees with the keyboard: tried with each key, one edit on Enter, given up where it is closed", async () => {
  await open("Values…");
  const handle = () => document.querySelector<HTMLElement>("[role=slider]");
  act(() => { handle()?.focus(); });
  const arrow = () => { act(() => { handle()?.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight", keyCode: 39, which: 39, bubbles: true })); }); };
  arrow();
  arrow();
  expect(feed.allTried()).toEqual([{ do: "by degrees", picks, toward: "line", degree: 0.02, frame: null, kept: [] }]);
  hand.press("Enter");
  await server.settled();
  expect(server.edits()).toHaveLength(1);
  expect([feed.allTried(), document.querySelector("[data-degree]")?.getAttribute("data-degree")]).toEqual([[], "0"]);
  hand.choose("by degrees in", "in the world");
  arrow();
  expect(feed.allTried()).toEqual([{ do: "by degrees in world", picks, toward: "line", degree: 0.01, frame: null }]);
  hand.show(null);
  expect([feed.allTried(), server.edits().length]).toEqual([[], 1]);
});

it("thins within a tolerance, and makes angles go on", async () => {
  await open("Values…");
  hand.fill("tolerance", "0.02");
  hand.click("Thin");
  await server.settled();
  await open("Values…");
  hand.click("Continuous");
  await server.settled();
  expect(server.edits()).toEqual([{ do: "thin keys", picks, tolerance: 0.02 }, { do: "continuous angles", parts: ["p1"] }]);
});
