import { beforeEach, expect, it } from "vitest";

import type { ChannelView, PartView, SceneView } from "../api/client";
import { closeScene, firstToShow, takeView, useOpenScene } from "./openScene";

const part = (id: string, name: string, parent: string | null = null): PartView => ({
  id,
  name,
  parent,
  role: "control",
  side: "centre",
  rest: { translation: [0, 0, 0], rotation: [0, 0, 0] },
  rotation_order: "xyz",
  shape: {},
  opposite: null,
  paired: false,
  posed: false,
  channels: [],
  steps: [],
});

const view = (revision: number, order: string[], parts: PartView[], whole: boolean): SceneView => ({
  header: { id: 7, name: "s", fps: 24, first: 0, last: 9, units: {}, revision, undo: null, redo: null,
    looped: [], layers: [], sets: [], markers: [],
    driven: [],
    probes: [],
    leads: [], limbs: [],
  gaits: [],
  surfaces: [],
    what_ifs: [], references: [] },
  order,
  parts,
  whole,
});

beforeEach(closeScene);

it("takes what an edit changed and keeps the rest as the same objects", () => {
  takeView(7, view(0, ["a", "b"], [part("a", "one"), part("b", "two")], true));
  const before = useOpenScene.getState();
  takeView(7, view(1, ["a", "b"], [part("b", "three")], false));
  const after = useOpenScene.getState();
  expect(after.header.revision).toBe(1);
  expect(after.parts["a"]).toBe(before.parts["a"]);
  expect(after.parts["b"]?.name).toBe("three");
  expect(after.parts["b"]?.rest).toBe(before.parts["b"]?.rest);
  expect(after.order).toBe(before.order);
  expect(after.header.layers).toBe(before.header.layers);
});

it("forgets parts that are gone", () => {
  takeView(7, view(0, ["a", "b"], [part("a", "one"), part("b", "two")], true));
  takeView(7, view(1, ["b"], [], false));
  expect(Object.keys(useOpenScene.getState().parts)).toEqual(["b"]);
});

it("is opened at the first part with keys, on a layer too, else at the first", () => {
  const moved = (id: string, channel: object) => ({ ...part(id, id), channels: [{ curve: null, on_layers: {}, ...channel } as unknown as ChannelView] });
  expect(firstToShow()).toBeNull();
  takeView(7, view(0, ["a", "b"], [moved("a", {}), part("b", "two")], true));
  expect(firstToShow()).toBe("a");
  takeView(7, view(1, ["a", "b", "c"], [moved("b", { on_layers: { l1: {} } }), moved("c", { curve: {} })], false));
  expect(firstToShow()).toBe("b");
});
