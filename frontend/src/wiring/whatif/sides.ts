import { create } from "zustand";

import type { OneEdit, PartView, StepView } from "../../api/client";
import type { WhatIfWish } from "../../state/order";
import { useOpenScene } from "../../state/openScene";
import { perScene } from "../../state/perScene";
import type { Tap } from "../../shared/taps";

export type Side = WhatIfWish["one"];
type Zone = Exclude<Tap, "keyed" | "solved">;

/** What one side of a comparison is: the scene as it is, as it was, or with one thing changed. */
export type SideChoice =
  | { kind: "now" }
  | { kind: "revision"; revision: number }
  | { kind: "muted"; step: string }
  | { kind: "zone"; step: string; zone: Zone }
  | { kind: "formula"; step: string; text: string }
  | { kind: "number"; part: string; channel: string; value: number };

interface Sides {
  /** A saved What if, or null where both sides are chosen here. */
  saved: string | null;
  /** Whether anything was chosen here since the page was opened. */
  touched: boolean;
  one: SideChoice;
  other: SideChoice;
  /** The channels that are compared, as `part/channel`; none: those that differ most. */
  channels: string[];
}

const nothing: Sides = { saved: null, touched: false, one: { kind: "now" }, other: { kind: "now" }, channels: [] };

/** The two sides that are compared. */
export const useSides = create<Sides>(() => nothing);

perScene(() => { useSides.setState(nothing); });

/** The wish for two sides, with the channels that were chosen. */
export function useWish(one: Side | null, other: Side | null): WhatIfWish | null {
  const channels = useSides((sides) => sides.channels);
  if (!one || !other) return null;
  return { one, other, channels: channels.map((key) => key.split("/") as [string, string]) };
}

export const zones: readonly Zone[] = ["driven", "bound", "late", "final"];

/** A step of the open scene and its part. */
export function stepOf(parts: Record<string, PartView>, id: string): { step: StepView; part: PartView } | undefined {
  for (const part of Object.values(parts)) {
    const step = part.steps.find((one) => one.id === id);
    if (step) return { step, part };
  }
  return undefined;
}

/** What the server is asked for a side; null where its step has gone. */
export function sideOf(choice: SideChoice, parts: Record<string, PartView>): Side | null {
  if (choice.kind === "now") return {};
  if (choice.kind === "revision") return { revision: choice.revision };
  const edit = editOf(choice, parts);
  return edit && { edits: [edit] };
}

function editOf(choice: Exclude<SideChoice, { kind: "now" | "revision" }>, parts: Record<string, PartView>): OneEdit | null {
  if (choice.kind === "number") return { do: "set value", part: choice.part, channel: choice.channel, value: choice.value };
  const step = stepOf(parts, choice.step)?.step;
  if (!step) return null;
  switch (choice.kind) {
    case "muted":
      return { do: "change step", step: step.id, on: !step.on };
    case "zone":
      return { do: "move step", step: step.id, zone: choice.zone, position: 0 };
    case "formula":
      return step.settings.kind === "formula" ? { do: "change step", step: step.id, settings: { ...step.settings, text: choice.text } } : null;
  }
}

/** A side in a few words. */
export function sideName(choice: SideChoice, parts: Record<string, PartView>): string {
  switch (choice.kind) {
    case "now":
      return "now";
    case "revision":
      return `edit ${String(choice.revision)}`;
    case "number": {
      const part = parts[choice.part];
      const channel = part?.channels.find(({ id }) => id === choice.channel);
      return `${part?.name ?? ""}.${channel?.name ?? ""} = ${String(choice.value)}`;
    }
    default: {
      const step = stepOf(parts, choice.step)?.step;
      if (choice.kind === "muted") return `“${step?.name ?? ""}” ${step?.on ? "muted" : "on"}`;
      if (choice.kind === "zone") return `“${step?.name ?? ""}” in ${choice.zone}`;
      return `“${step?.name ?? ""}” by another formula`;
    }
  }
}

/** What of a side can be saved with the scene: where a step stands, and whether it is on. */
export function variantOf(choice: SideChoice, beside: SideChoice) {
  const { parts } = useOpenScene.getState();
  const id = "step" in choice ? choice.step : "step" in beside ? beside.step : null;
  const step = id === null ? undefined : stepOf(parts, id)?.step;
  if (!step) return null;
  if (choice.kind === "muted") return { step: step.id, on: !step.on };
  if (choice.kind === "zone") return { step: step.id, zone: choice.zone };
  if (choice.kind !== "now") return null;
  // The present state is saved too, so that the comparison stays one when the step is moved.
  return beside.kind === "zone" ? { step: step.id, zone: step.zone } : beside.kind === "muted" ? { step: step.id, on: step.on } : null;
}
