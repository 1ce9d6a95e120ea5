import { expect, test } from "vitest";

import type { ChannelView, PartView } from "../../api/client";
import { allPicks, isHead, linesOf } from "./rows";

const keyed = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame, value: 0 })) });
const channel = (id: string, curve: object | null, on_layers: object = {}) => ({ id, name: id, curve, on_layers }) as unknown as ChannelView;
const part = (id: string, name: string, ...channels: ChannelView[]) => ({ id, name, channels }) as unknown as PartView;
const wing = part("p1", "left wing", channel("rotation.x", keyed(0, 8), { l1: keyed(4) }), channel("visible", null));
const tail = part("p2", "tail", channel("visible", keyed(2)));
const layers = [{ id: "l1", name: "arms" }];

test("lanes of several parts stand under their names, those of one part do not", () => {
  expect(linesOf([wing], layers, "").map((line) => (isHead(line) ? line.head : line.short))).toEqual(["rot.x", "rot.x on arms"]);
  expect(linesOf([wing, tail, undefined], layers, "").map((line) => (isHead(line) ? line.head : line.short))).toEqual([
    "left wing", "rot.x", "rot.x on arms", "tail", "visible",
  ]);
});

test("a search looks at part, channel and layer, and leaves no empty part", () => {
  expect(linesOf([wing, tail], layers, "arms WING").map((line) => (isHead(line) ? line.head : line.name))).toEqual(["left wing.rotation.x on arms"]);
  expect(linesOf([wing, tail], layers, "nothing")).toEqual([]);
});

test("all keys of the lanes are picked, on layers too", () => {
  expect(allPicks(linesOf([wing, tail], layers, ""))).toEqual([
    { part: "p1", channel: "rotation.x", frames: [0, 8] },
    { part: "p1", channel: "l1:rotation.x", frames: [4] },
    { part: "p2", channel: "visible", frames: [2] },
  ]);
});
