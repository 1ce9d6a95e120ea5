import { expect, it } from "vitest";

import type { PartView } from "../../api/client";
import type { BindingKind } from "./settings";
import { bindEdit, bindingHints, bindingKinds, freeStepName } from "./settings";

const part = { id: "p1", name: "hook", steps: [{ name: "aim" }, { name: "aim 2" }, { name: "spaces" }] } as unknown as PartView;
const made = (kind: BindingKind, targets: string[], keep: number | null = null) => bindEdit(part, kind, targets, keep, "late", 10);

it("gives a step a name that the part has not", () => {
  expect(["path", "aim", "aim 2", ""].map((name) => freeStepName(part, name))).toEqual(["path", "aim 3", "aim 2 2", ""]);
});

it("says of every kind of binding what it does", () => {
  expect(Object.keys(bindingHints).sort()).toEqual([...bindingKinds].sort());
});

it("binds to parts and to the world, with or without the offset", () => {
  expect(made("aim", ["p2", ""], 10)).toEqual({ do: "bind", part: "p1", name: "aim 3", zone: "late", keep: 10, settings: { kind: "aim", targets: [{ part: "p2" }, { part: null }] } });
  expect(made("position", ["p2"])).toMatchObject({ do: "bind", keep: null });
});

it("makes paths through parts, spans from this frame on, and spaces beside the parent", () => {
  expect(made("path", ["p2", ""])).toMatchObject({ do: "add step", name: "path", settings: { kind: "path", points: [{ part: "p2" }, { part: null }] } });
  expect(made("plant", [])).toMatchObject({ settings: { kind: "plant", spans: [{ first: 10, last: 22, keep: 10 }] } });
  expect(made("follow", [])).toMatchObject({ settings: { kind: "follow", takes: ["rotation"] } });
  expect(made("space", ["", "p2"])).toMatchObject({ name: "spaces 2", settings: { spaces: ["", "0", "p2"] } });
  // A choice of one space would be none.
  expect(made("space", [])).toMatchObject({ settings: { spaces: ["", "0"] } });
});
