import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { setRange, usePlayer } from "./player";
import { addKeys, chooseChannel, chooseKeys, chooseParts, choosePart, chooseStep, framesOf, readAddress, togglePart, useSelection } from "./selection";

const now = () => useSelection.getState();
const channels = (part: string) => (part === "p1" || part === "p2" ? ["translation.x", "rotation.z"] : undefined);

beforeEach(() => { choosePart(null); });
afterEach(() => {
  choosePart(null);
  setRange({ first: 0, last: 0, fps: 24 });
  vi.unstubAllGlobals();
});

function atAddress(search: string): string[] {
  vi.stubGlobal("window", { location: { search } });
  setRange({ first: 10, last: 40, fps: 24 });
  return readAddress({ channels, begin: "p2", first: 10, last: 40 });
}

it("shows the channels of the part that was chosen last, and keeps its channel with more parts", () => {
  chooseChannel("p1", "rotation.z");
  chooseKeys([{ part: "p1", channel: "rotation.z", frames: [4] }]);
  chooseStep("s1");
  chooseParts(["p2", "p1"]);
  expect(now()).toMatchObject({ part: "p1", parts: ["p2", "p1"], channel: "rotation.z", step: null });
  expect(now().keys).toHaveLength(1);
  chooseParts(["p1", "p2"]);
  expect(now()).toMatchObject({ part: "p2", channel: null, keys: [] });
  togglePart("p2");
  expect(now()).toMatchObject({ part: "p1", parts: ["p1"] });
  togglePart("p1");
  expect(now()).toMatchObject({ part: null, parts: [] });
});

it("leaves several chosen parts where a channel of one of them is chosen, and drops them for another", () => {
  chooseParts(["p1", "p2"]);
  chooseChannel("p1", "translation.x");
  expect(now()).toMatchObject({ part: "p1", parts: ["p1", "p2"] });
  chooseChannel("p3", "translation.x");
  expect(now().parts).toEqual(["p3"]);
});

it("adds keys to those chosen, takes a single one out again, and never keeps a curve without any", () => {
  const pick = (...frames: number[]) => [{ part: "p1", channel: "rotation.z", frames }];
  addKeys(pick(12, 4));
  addKeys(pick(8));
  expect(framesOf(now().keys, "p1", "rotation.z")).toEqual([4, 8, 12]);
  addKeys(pick(8));
  addKeys([{ part: "p2", channel: "l1:rotation.z", frames: [1] }]);
  expect(framesOf(now().keys, "p1", "rotation.z")).toEqual([4, 12]);
  addKeys([{ part: "p2", channel: "l1:rotation.z", frames: [1] }]);
  expect(now().keys).toHaveLength(1);
  expect(framesOf(now().keys, "p2", "l1:rotation.z")).toEqual([]);
});

it("takes part, channel and frame from a link", () => {
  expect(atAddress("?part=p1&channel=rotation.z&frame=20")).toEqual([]);
  expect(now()).toMatchObject({ part: "p1", parts: ["p1"], channel: "rotation.z" });
  expect(usePlayer.getState().frame).toBe(20);
});

it("says what a link asks for that is not there, and shows the nearest", () => {
  expect(atAddress("?part=p1&channel=gone&frame=99")).toEqual([
    "its channel is not on this part any more",
    "frame 99 is outside 10 to 40",
  ]);
  expect(now()).toMatchObject({ part: "p1", channel: null });
  expect(usePlayer.getState().frame).toBe(40);
  expect(atAddress("?part=p9&channel=rotation.z&frame=odd")).toEqual(["its part is not in this scene any more"]);
  expect(now()).toMatchObject({ part: "p2", parts: ["p2"], channel: null });
  expect(usePlayer.getState().frame).toBe(40);
});

it("begins at a part where the address asks for none", () => {
  expect(atAddress("?frame=20")).toEqual([]);
  expect(now()).toMatchObject({ part: "p2", parts: ["p2"], channel: null });
});
