import { beforeEach, expect, test } from "vitest";

import type { PartView } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { sideName, sideOf, variantOf } from "./sides";

const boat = {
  id: "p1",
  name: "boat",
  channels: [{ id: "c1", name: "draught", value: 0.4 }],
  steps: [
    { id: "s1", name: "tie", on: true, zone: "late", settings: { kind: "formula", channel: "translation.x", text: "{post.translation.x}", mode: "set" } },
    { id: "s2", name: "drift", on: false, zone: "bound", settings: { kind: "position", targets: [] } },
  ],
} as unknown as PartView;
const parts = { p1: boat };

beforeEach(() => { useOpenScene.setState({ parts }); });

test("a side is the scene as it is, as it was, or with one edit more", () => {
  expect(sideOf({ kind: "now" }, parts)).toEqual({});
  expect(sideOf({ kind: "revision", revision: 4 }, parts)).toEqual({ revision: 4 });
  const edits = (choice: Parameters<typeof sideOf>[0]) => sideOf(choice, parts)?.edits;
  expect(edits({ kind: "muted", step: "s1" })).toEqual([{ do: "change step", step: "s1", on: false }]);
  expect(edits({ kind: "muted", step: "s2" })).toEqual([{ do: "change step", step: "s2", on: true }]);
  expect(edits({ kind: "zone", step: "s1", zone: "driven" })).toEqual([{ do: "move step", step: "s1", zone: "driven", position: 0 }]);
  expect(edits({ kind: "number", part: "p1", channel: "c1", value: 0.9 })).toEqual([{ do: "set value", part: "p1", channel: "c1", value: 0.9 }]);
  const settings = { ...boat.steps[0]?.settings, text: "1" };
  expect(edits({ kind: "formula", step: "s1", text: "1" })).toEqual([{ do: "change step", step: "s1", settings }]);
});

test("a side whose step has gone, or is no formula, is none", () => {
  expect(sideOf({ kind: "muted", step: "s9" }, parts)).toBeNull();
  expect(sideOf({ kind: "formula", step: "s2", text: "1" }, parts)).toBeNull();
});

test("a side is called by what is different in it", () => {
  const names = [
    { kind: "now" } as const,
    { kind: "revision", revision: 12 } as const,
    { kind: "muted", step: "s1" } as const,
    { kind: "muted", step: "s2" } as const,
    { kind: "zone", step: "s2", zone: "late" } as const,
    { kind: "number", part: "p1", channel: "c1", value: 0.9 } as const,
  ].map((choice) => sideName(choice, parts));
  expect(names).toEqual(["now", "edit 12", "“tie” muted", "“drift” on", "“drift” in late", "boat.draught = 0.9"]);
});

test("the present state of a step is saved beside its other one; what is no order is not", () => {
  const muted = { kind: "muted", step: "s1" } as const;
  expect([variantOf({ kind: "now" }, muted), variantOf(muted, { kind: "now" })]).toEqual([{ step: "s1", on: true }, { step: "s1", on: false }]);
  const early = { kind: "zone", step: "s1", zone: "driven" } as const;
  expect([variantOf({ kind: "now" }, early), variantOf(early, { kind: "now" })]).toEqual([{ step: "s1", zone: "late" }, { step: "s1", zone: "driven" }]);
  expect(variantOf({ kind: "revision", revision: 3 }, muted)).toBeNull();
  expect(variantOf({ kind: "now" }, { kind: "now" })).toBeNull();
});
