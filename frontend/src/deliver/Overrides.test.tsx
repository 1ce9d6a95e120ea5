// @vitest-environment happy-dom
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { Setup } from "../api/client";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { standIn } from "../state/server.testing";
import { Moves } from "./Moves";
import { Overrides } from "./Overrides";
import type { Played } from "./receiver";
import { useReceiver } from "./receiver";

let hand: ReturnType<typeof page>;
let server: ReturnType<typeof standIn>;
const clips = ["stand", "walk"].map((name) => ({ name, seconds: 2, fps: 24 }));
const played = { names: ["hull", "mast"], clips, frames: 100, rate: 60, blocks: {}, stretches: [], chases: [], missing: [], writers: [] } as Played;
const before: Setup = {
  overrides: [
    { name: "hold", kind: "hold", parts: ["hull"], weight: 1, on: true },
    { name: "by input", kind: "by input", parts: ["mast", "sail"], input: "wind", factor: 30, weight: 1, on: true },
  ] as NonNullable<Setup["overrides"]>,
  moves: [{ start: "stand", to: "walk", cause: "over", input: "speed", value: 0.2, blend: 0.25 }],
};
const stored = () => server.edits().map((edit) => (edit as { setup: Setup }).setup);
const fill = async (label: string, text: string) => {
  hand.fill(label, text);
  hand.press("Enter");
  await server.settled();
};
/** Opens a list and takes what is called so. */
const choose = async (label: string, option: string) => {
  const list = hand.labelled(label).closest(".ant-select");
  act(() => { list?.dispatchEvent(new MouseEvent("mousedown", { bubbles: true })); });
  await server.settled();
  act(() => { [...document.querySelectorAll<HTMLElement>(".ant-select-item-option")].find(({ textContent }) => textContent === option)?.click(); });
  await server.settled();
};

beforeEach(() => {
  server = standIn();
  server.answer("receive", { ...played, blocks: [], last: 99 });
  useOpenScene.setState({ sceneId: 7, parts: {}, order: [] });
  useReceiver.setState({ sceneId: 7, setup: before, played });
  hand = page();
  hand.show(<><Overrides /><Moves /></>);
});
afterEach(async () => {
  await server.settled();
  hand.close();
  useReceiver.setState({ sceneId: 0, setup: {}, played: null, problem: null });
  closeScene();
  vi.unstubAllGlobals();
});

it("adds an override with a name of its own, on a part of the file", async () => {
  await choose("Add an override", "hold");
  expect(stored().at(-1)?.overrides?.[2]).toMatchObject({ name: "hold 2", kind: "hold", parts: ["mast"] });
});

it("says which names the file has, and weighs no more than all", async () => {
  expect(hand.said()).toContain("1 of 2 in the file; not: sail");
  await fill("Weight of hold", "3");
  await fill("Input of hold", "tide");
  expect(stored().map(({ overrides }) => [overrides?.[0]?.weight, overrides?.[0]?.by])).toEqual([[1, undefined], [1, "tide"]]);
});

it("puts one before another and takes one away, and comes back where that is refused", async () => {
  hand.click("by input earlier");
  await server.settled();
  hand.click("Delete hold");
  await server.settled();
  expect(stored().map(({ overrides }) => overrides?.map(({ name }) => name))).toEqual([["by input", "hold"], ["by input"]]);
  server.refuse("the scene is read only");
  hand.click("Delete by input");
  expect(useReceiver.getState().setup.overrides).toEqual([]);
  await server.settled();
  expect(useReceiver.getState().setup.overrides?.map(({ name }) => name)).toEqual(["by input"]);
});

it("moves from clip to clip: another one, its blend within bounds, and what plays once", async () => {
  hand.click("+ move");
  await server.settled();
  hand.click("Delete move 2");
  await server.settled();
  await fill("blend", "-1");
  hand.click("walk: loop");
  await server.settled();
  expect(stored().map(({ moves, once }) => [moves?.length, moves?.[0]?.blend, once])).toEqual([[2, 0.25, undefined], [1, 0.25, undefined], [1, 0, undefined], [1, 0, ["walk"]]]);
  hand.click("walk: once");
  await server.settled();
  expect(stored().at(-1)?.once).toEqual([]);
});
