// @vitest-environment happy-dom
import { act } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { TakeInView } from "../api/client";
import { page } from "../shared/page.testing";
import { closeScene, useOpenScene } from "../state/openScene";
import { TakeIn } from "./TakeIn";

let hand: ReturnType<typeof page>;
let asked: { path: string; answer: (view: object, ok?: boolean) => void }[] = [];
const shown = vi.fn<(what: unknown) => void>();
const view = (clip: string, ...here: string[]) => ({ clips: ["walk", "stand"], matches: ["hull", "mast"].map((name) => ({ name: `${name} of ${clip}`, part: here.includes(name) ? "p1" : null })), channels: [], report: { otherwise: [], lost: [] }, scene: null }) as unknown as TakeInView;
const settle = async () => { await act(async () => { for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); }); }); };
const answer = async (n: number, what: object, ok = true) => {
  asked[n]?.answer(what, ok);
  await settle();
};
const give = async (name: string) => {
  const input = document.querySelector<HTMLInputElement>("input[type=file]");
  Object.defineProperty(input, "files", { value: [new File(["x"], name)], configurable: true });
  act(() => { input?.dispatchEvent(new Event("change", { bubbles: true })); });
  await settle();
};

beforeEach(() => {
  asked = [];
  vi.stubGlobal("fetch", (path: string) => new Promise((done) => {
    asked.push({ path, answer: (what, ok = true) => { done({ ok, status: ok ? 200 : 422, json: () => Promise.resolve(what) }); } });
  }));
  useOpenScene.setState({ sceneId: 7 });
  hand = page();
  hand.show(<MemoryRouter><TakeIn onShow={shown} /></MemoryRouter>);
  shown.mockClear();
});
afterEach(() => {
  hand.close();
  closeScene();
  vi.unstubAllGlobals();
});

it("looks at a file first, and says which of its parts are here", async () => {
  await give("boat.glb");
  await answer(0, view("walk", "hull"));
  expect(asked[0]?.path).toBe("/api/scenes/7/take-in/look?file=boat.glb");
  for (const words of ["1 of 2 parts have the name of a part here", "not here: mast of walk"]) expect(hand.said()).toContain(words);
  expect(shown).toHaveBeenCalledOnce();
});

it("asks for the unit where a file says none, and looks and takes in by it", async () => {
  await give("boat.glb");
  await answer(0, view("walk", "hull"));
  expect(hand.has("Unit of the file")).toBe(false);
  await give("walk.bvh");
  await answer(1, view("walk", "hull"));
  hand.choose("Unit of the file", "lengths are in centimetres");
  await answer(2, view("walk", "hull"));
  hand.choose("Clip that is taken in", "stand");
  await answer(3, view("stand", "hull"));
  hand.click("Onto these");
  await settle();
  // Edits wait for it: nothing goes on behind what is never answered.
  await answer(4, { error: "the disk is full" }, false);
  expect(asked.slice(2).map(({ path }) => path)).toEqual([
    "/api/scenes/7/take-in/look?file=walk.bvh&unit=0.01",
    "/api/scenes/7/take-in/look?file=walk.bvh&unit=0.01&clip=stand",
    "/api/scenes/7/take-in?file=walk.bvh&revision=0&unit=0.01&clip=stand",
  ]);
});

it("takes in channels alone, onto those of their names", async () => {
  await give("sway.csv");
  await answer(0, { ...view("walk"), matches: [], channels: ["hull.sway"] });
  expect(hand.said()).toContain("1 channel comes in by name");
  const waits = (name: string) => [...document.querySelectorAll("button")].find(({ textContent }) => textContent === name)?.disabled;
  expect([waits("Onto these"), waits("As a new scene")]).toEqual([false, true]);
});

it("shows what was asked for last, in whatever order answers come", async () => {
  await give("boat.glb");
  await give("barge.usda");
  await answer(1, view("barge", "hull", "mast"));
  await answer(0, view("boat"));
  expect([hand.said().includes("barge.usda"), hand.said().includes("2 of 2 parts")]).toEqual([true, true]);
  await give("wreck.bvh");
  await give("raft.csv");
  await answer(3, view("raft", "mast"));
  await answer(2, { error: "the file is cut short" }, false);
  expect([hand.said().includes("1 of 2 parts"), hand.said().includes("cut short")]).toEqual([true, false]);
});

it("takes a file in once, however often it is clicked, and keeps it to be tried again where that fails", async () => {
  await give("boat.glb");
  await answer(0, view("walk", "hull"));
  hand.click("As a new scene");
  hand.click("As a new scene");
  await settle();
  expect(asked.slice(1).map(({ path }) => path)).toEqual(["/api/scenes/take-in?file=boat.glb"]);
  await answer(1, { error: "the disk is full" }, false);
  expect(hand.said()).toContain("the disk is full");
});
