import { expect, it } from "vitest";

import type { OneEdit, PartView, SceneHeader } from "../api/client";
import { useOpenScene } from "./openScene";
import { merged, rebased } from "./rebase";

const header = useOpenScene.getInitialState().header;
const scene = (part: object, more: object = {}) => ({ header: { ...header, ...more } as SceneHeader, parts: { p1: { id: "p1", steps: [], channels: [], ...part } as unknown as PartView } });

it("keeps what both changed: numbers of a vector, fields of a thing, members of a thing in a thing", () => {
  expect(merged([1, 2, 3], [1, 5, 3], [4, 2, 3])).toEqual([4, 5, 3]);
  expect(merged({ a: 1, b: { c: 2, d: 3 } }, { a: 1, b: { c: 9, d: 3 } }, { a: 7, b: { c: 2, d: 8 } })).toEqual({ a: 7, b: { c: 9, d: 8 } });
});

it("lets the later one win where both changed the same", () => {
  expect(merged([1, 2], [5, 2], [4, 2])).toEqual([5, 2]);
  expect(merged("lift", "raise", "hoist")).toBe("raise");
  expect(merged(null, 3, 5)).toBe(3);
});

it("comes back where something is switched twice before the first answer", () => {
  expect([merged(true, false, false), merged(false, true, true), merged(true, false, true)]).toEqual([true, false, false]);
  const step = (on: boolean) => scene({ steps: [{ id: "s1", on }] });
  expect(rebased({ do: "change step", step: "s1", on: false }, step(true), step(false))).toEqual({ do: "change step", step: "s1", on: true });
});

it("takes a list of another length as it was wanted, and one that was left alone as it is now", () => {
  expect(merged(["a", "b"], ["a"], ["a", "c"])).toEqual(["a"]);
  expect(merged(["a", "b"], ["a", "b"], ["a"])).toEqual(["a"]);
});

it("keeps fields that came, and leaves out those that were taken away", () => {
  expect(merged({ a: 1, b: 2 }, { a: 1 }, { a: 1, b: 2, c: 3 })).toEqual({ a: 1, c: 3 });
  expect(merged({ a: 1 }, { a: 1, d: 4 }, { a: 2 })).toEqual({ a: 2, d: 4 });
});

it("gives any change of one field and any of another both, in whichever order", () => {
  const values = [0, 1, -2.5, null, "x", [1, 2], { u: 1 }];
  let both = 0;
  for (const [i, a] of values.entries()) {
    for (const b of values) {
      const before = { a: values[(i + 1) % values.length], b: "as it was", c: [0, { d: 1 }] };
      const [mine, yours] = [{ ...before, a }, { ...before, b }];
      expect(merged(before, mine, yours)).toEqual({ ...before, a, b });
      expect(merged(before, yours, mine)).toEqual({ ...before, a, b });
      both += 1;
    }
  }
  expect(both).toBe(49);
});

it("puts a change of a part's rest, a step's settings or a thing in the header onto what it is now", () => {
  const rest = (translation: number[], rotation = [0, 0, 0]) => ({ rest: { translation, rotation } });
  const edit: OneEdit = { do: "change part", part: "p1", rest: { translation: [0, 2, 0], rotation: [0, 0, 0] } };
  expect(rebased(edit, scene(rest([0, 0, 0])), scene(rest([1, 0, 0], [0, 90, 0])))).toEqual({ ...edit, rest: { translation: [1, 2, 0], rotation: [0, 90, 0] } });
  const step = (offset: number[], axes: string[]) => ({ steps: [{ id: "s1", settings: { kind: "position", targets: [], offset, axes } }] });
  const changed = { do: "change step", step: "s1", settings: { kind: "position", targets: [], offset: [0, 3, 0], axes: ["x"] } } as unknown as OneEdit;
  expect(rebased(changed, scene(step([0, 0, 0], ["x"])), scene(step([9, 0, 0], ["y"])))).toMatchObject({ settings: { offset: [9, 3, 0], axes: ["y"] } });
  const probe = (point: number[], rolling: boolean) => scene({}, { probes: [{ id: "k1", name: "rim", part: "p1", point, rolling, ground: null }] });
  const put = { do: "put probe", id: "k1", name: "rim", part: "p1", point: [0, -1, 0], rolling: false, ground: null } as unknown as OneEdit;
  expect(rebased(put, probe([0, 0, 0], false), probe([0, 0, 4], true))).toMatchObject({ point: [0, -1, 4], rolling: true });
  const units = (length: string, angle: string) => scene({}, { units: { length, angle } });
  const turns: OneEdit = { do: "set units", length: "m", angle: "turns" };
  expect(rebased(turns, units("m", "degrees"), units("cm", "degrees"))).toEqual({ ...turns, length: "cm" });
  const deform = (axis: number[]) => scene({}, { surfaces: [{ id: "k2", steps: [{ id: "d1", axis }] }] });
  const along = { do: "change deform", surface: "k2", step: "d1", axis: [1, 2, 0] } as unknown as OneEdit;
  expect(rebased(along, deform([1, 0, 0]), deform([1, 0, 5]))).toMatchObject({ axis: [1, 2, 5] });
});

it("leaves alone what is new, gone, or no whole thing", () => {
  const edits: OneEdit[] = [
    { do: "put set", name: "deck", parts: ["p1"] },
    { do: "change step", step: "s9", on: false },
    { do: "set value", part: "p1", channel: "size", value: 3 },
  ];
  for (const edit of edits) expect(rebased(edit, scene({ name: "a" }), scene({ name: "b" }))).toBe(edit);
});
