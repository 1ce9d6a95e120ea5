import { expect, test } from "vitest";

import type { PartView } from "../../api/client";
import { tintsOf } from "./tints";

test("tints are found on channels and layers, with their keys", () => {
  const red = { word: "breakdown", colour: "#B23A2B" };
  const curve = (...keys: [number, object?][]) => ({ keys: keys.map(([frame, tint]) => ({ frame, value: 0, tint: tint ?? null })) });
  const part = {
    id: "p1",
    channels: [
      { id: "rotation.x", curve: curve([1, red], [2], [3, red]), on_layers: { l1: curve([5, red]) } },
      { id: "rotation.y", curve: curve([4, { word: "accent", colour: "#2B5EA8" }]), on_layers: {} },
      { id: "rotation.z", curve: null, on_layers: {} },
    ],
  };
  expect(tintsOf({ p1: part } as unknown as Record<string, PartView>)).toEqual([
    { word: "accent", colour: "#2B5EA8", count: 1, picks: [{ part: "p1", channel: "rotation.y", frames: [4] }] },
    { word: "breakdown", colour: "#B23A2B", count: 3, picks: [
      { part: "p1", channel: "rotation.x", frames: [1, 3] },
      { part: "p1", channel: "l1:rotation.x", frames: [5] },
    ] },
  ]);
});
