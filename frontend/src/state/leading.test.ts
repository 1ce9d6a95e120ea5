import { afterEach, beforeEach, expect, test } from "vitest";

import type { Key, PartView, SceneHeader } from "../api/client";
import { leadEdits, toggleLeading, useLeading } from "./leading";
import { closeScene, useOpenScene } from "./openScene";

const keys: Key[] = [{ frame: 0, value: 1, interpolation: "hold" }, { frame: 20, value: 2, interpolation: "hold" }];

beforeEach(() => {
  const header = { leads: [{ id: "g1", name: "feet", part: "p1", members: ["p2", "p3"] }] } as SceneHeader;
  const home = { id: "p1", channels: [{ id: "g1.position", value: 0, curve: { keys } }] } as PartView;
  useOpenScene.setState({ header, parts: { p1: home } });
  useLeading.setState({ on: [] });
});

// All test files share what is open.
afterEach(closeScene);

test("what is moved leads only where that is switched on", () => {
  expect(leadEdits(["p3"], 10)).toEqual([]);
  toggleLeading("g1");
  expect(leadEdits(["p3"], 10)).toEqual([{ do: "key lead", id: "g1", frame: 10, part: "p3" }]);
  toggleLeading("g1");
  expect(leadEdits(["p3"], 10)).toEqual([]);
});

test("nothing is keyed where it leads already, or is no member", () => {
  toggleLeading("g1");
  expect(leadEdits(["p2"], 19)).toEqual([]);
  expect(leadEdits(["p3"], 20)).toEqual([]);
  expect(leadEdits(["p9"], 10)).toEqual([]);
  expect(leadEdits(["p2"], 25)).toHaveLength(1);
});
