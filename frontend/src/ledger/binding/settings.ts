import type { OneEdit, PartView, StepView } from "../../api/client";
import { freeName } from "../../shared/freeName";

type Settings = StepView["settings"];
export type Vector = [number, number, number];
export type ConstraintSettings = Extract<Settings, { read?: unknown }>;
export type AimSettings = Extract<Settings, { kind?: "aim" }>;
export type PathSettings = Extract<Settings, { kind?: "path" }>;
export type FollowSettings = Extract<Settings, { kind?: "follow" }>;
export type SpaceSettings = Extract<Settings, { kind?: "space" }>;
export type PlantSettings = Extract<Settings, { kind?: "plant" }>;
export type Target = ConstraintSettings["targets"][number];
export type BindingKind = (typeof bindingKinds)[number];

/** What can be bound, in the order of the menu; the word says what it carries. */
export const bindingKinds = ["position", "rotation", "scale", "full", "aim", "path", "follow", "space", "plant"] as const;

export const bindingHints: Record<BindingKind, string> = {
  position: "goes where the targets are",
  rotation: "turns as the targets turn",
  scale: "grows as the targets grow",
  full: "position, rotation and scale together",
  aim: "an axis looks at the targets",
  path: "goes along a smooth path by its length",
  follow: "takes a share of its parent's motion",
  space: "moves in one of several spaces at a time",
  plant: "stands still in the world over spans of frames",
};

/** The numbers of a span, and what they mean. */
export const plantFields = [
  ["first", "first frame on which it stands"],
  ["last", "last frame on which it stands"],
  ["keep", "the frame whose place it keeps"],
  ["entry", "over how many frames it joins"],
  ["exit", "over how many frames it leaves"],
] as const;

/** Whether a kind of step works on whole groups. */
export function isConstraint(settings: Settings): settings is ConstraintSettings {
  return "read" in settings && "targets" in settings;
}

/** A name that no step of the part has. */
export function freeStepName(part: PartView, wanted: string): string {
  return freeName(wanted, part.steps.map(({ name }) => name));
}

/** The edit that binds a part to others. */
export function bindEdit(part: PartView, kind: BindingKind, targets: string[], keep: number | null, zone: "bound" | "late", frame: number): OneEdit {
  const name = freeStepName(part, kind === "space" ? "spaces" : kind);
  const followed = targets.map((one) => ({ part: one === "" ? null : one }));
  if (kind === "path") {
    return { do: "add step", part: part.id, name, zone, settings: { kind, points: followed } };
  }
  if (kind === "follow") {
    return { do: "add step", part: part.id, name, zone, settings: { kind, takes: ["rotation"] } };
  }
  if (kind === "plant") {
    const span = { first: frame, last: frame + 12, keep: frame };
    return { do: "add step", part: part.id, name, zone, settings: { kind, spans: [span] } };
  }
  if (kind === "space") {
    const spaces = ["", ...targets.map((one) => (one === "" ? "0" : one))];
    return { do: "add step", part: part.id, name, zone, settings: { kind, spaces: spaces.length > 1 ? spaces : ["", "0"] } };
  }
  return { do: "bind", part: part.id, name, settings: { kind, targets: followed }, keep, zone };
}
