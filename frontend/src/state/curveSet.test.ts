import { afterEach, beforeEach, expect, it } from "vitest";

import type { PartView } from "../api/client";
import type { Beside } from "./curveSet";
import { curvesBeside, drawnOf, movingChannels, toggleCurve, toggleSolo, useCurveSet } from "./curveSet";
import { closeScene, useOpenScene } from "./openScene";
import { chooseChannel, chooseParts, choosePart } from "./selection";

const channel = (id: string, more: object = {}) => ({ id, name: id, locked: false, curve: null, on_layers: {}, ...more });
const usual = useCurveSet.getState();
const keyed = { curve: { keys: [] } };

beforeEach(() => {
  const arm = {
    id: "p1",
    name: "arm",
    channels: [channel("translation.x", keyed), channel("translation.y"), channel("rotation.z", { on_layers: { l1: {} } }), channel("s1.speed")],
    steps: [{ on: true, writes: ["s1.speed"] }, { on: false, writes: ["translation.y"] }],
  };
  const many = Array.from({ length: 70 }, (_, n) => channel(`c${String(n)}`, keyed));
  const parts = { p1: arm, p2: { id: "p2", name: "crowd", channels: many, steps: [] } };
  useOpenScene.setState({ order: ["p1", "p2"], parts: parts as unknown as Record<string, PartView> });
  chooseChannel("p1", "translation.x");
});
afterEach(() => {
  useCurveSet.setState(usual, true);
  choosePart(null);
  closeScene();
});

const beside = (which: Beside) => curvesBeside(which).map(({ name }) => name);

it("takes for moving what has keys, is on a layer or is written by a step that is on", () => {
  const { p1 } = useOpenScene.getState().parts;
  expect(p1 && movingChannels(p1)).toEqual(["translation.x", "rotation.z", "s1.speed"]);
});

it("shows beside a channel its group, its part or all chosen parts, but never itself", () => {
  expect(beside("nothing")).toEqual([]);
  expect(beside("its group")).toEqual(["translation.y"]);
  expect(beside("its part")).toEqual(["rotation.z", "s1.speed"]);
  chooseParts(["p2", "p1"]);
  chooseChannel("p1", "translation.x");
  const all = beside("chosen parts");
  expect(all.slice(0, 2)).toEqual(["crowd.c0", "crowd.c1"]);
  expect(all).toHaveLength(60);
});

it("shows a whole part where no channel is chosen, whatever stands beside one, and nothing of nothing", () => {
  choosePart("p2");
  choosePart("p1");
  expect(beside("nothing")).toEqual(["translation.x", "rotation.z", "s1.speed"]);
  chooseParts(["p2", "p1"]);
  expect(beside("nothing").slice(0, 4)).toEqual(["translation.x", "rotation.z", "s1.speed", "crowd.c0"]);
  choosePart(null);
  expect(beside("its part")).toEqual([]);
  toggleCurve("p1/translation.x");
  toggleCurve("p1/rotation.z");
  toggleCurve("p1/translation.x");
  expect(useCurveSet.getState().hidden).toEqual(["p1/rotation.z"]);
});

it("keeps pinned curves beside whatever is chosen, once, as long as they are there", () => {
  toggleCurve("p1/rotation.z", "pinned");
  toggleCurve("p2/c3", "pinned");
  toggleCurve("p9/gone", "pinned");
  const { pinned } = useCurveSet.getState();
  const names = (which: Beside) => curvesBeside(which, pinned).map(({ name }) => name);
  expect(names("its part")).toEqual(["rotation.z", "crowd.c3", "s1.speed"]);
  chooseChannel("p1", "rotation.z");
  expect(names("nothing")).toEqual(["crowd.c3"]);
  toggleCurve("p2/c3", "pinned");
  expect(useCurveSet.getState().pinned).toEqual(["p1/rotation.z", "p9/gone"]);
});

it("draws one alone while it is there, else those that are not hidden", () => {
  const curves = curvesBeside("its part");
  const drawn = () => drawnOf(curves, useCurveSet.getState()).map(({ name }) => name);
  toggleCurve("p1/s1.speed");
  expect(drawn()).toEqual(["rotation.z"]);
  toggleSolo("p1/s1.speed");
  expect(drawn()).toEqual(["s1.speed"]);
  toggleSolo("p2/c3");
  expect(drawn()).toEqual(["rotation.z"]);
  toggleSolo("p2/c3");
  expect(useCurveSet.getState().solo).toBeNull();
});
