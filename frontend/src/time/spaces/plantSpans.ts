import type { PartView, StepView } from "../../api/client";
import type { PlantSettings } from "../../ledger/binding/settings";

export type Span = Required<NonNullable<PlantSettings["spans"]>[number]>;
/** What of a span is dragged. */
export type Grip = "whole" | "first" | "last" | "keep" | "entry" | "exit";

export interface Plant {
  part: PartView;
  step: StepView;
  settings: PlantSettings;
  spans: Span[];
}

/** The plants of these parts, with all numbers of their spans. */
export function plantsOf(parts: (PartView | undefined)[]): Plant[] {
  return parts.flatMap((part) =>
    (part?.steps ?? []).flatMap((step): Plant[] => {
      const { settings } = step;
      if (!part || !("kind" in settings) || settings.kind !== "plant") return [];
      const spans = (settings.spans ?? []).map((span) => ({ entry: 3, exit: 3, ...span }));
      return [{ part, step, settings, spans }];
    }),
  );
}

/** The spans after one was dragged by some frames. A span never meets its neighbours and is never less
 * than a frame; the frame whose place is kept goes along where the whole span does and it lies inside. */
export function dragged(spans: Span[], n: number, grip: Grip, by: number): Span[] {
  const span = spans[n];
  if (!span) return spans;
  const least = (spans[n - 1]?.last ?? -Infinity) + 1;
  const most = (spans[n + 1]?.first ?? Infinity) - 1;
  return spans.map((one, m) => (m === n ? changed(span, grip, by, least, most) : one));
}

function changed(span: Span, grip: Grip, by: number, least: number, most: number): Span {
  const { first, last, keep } = span;
  switch (grip) {
    case "whole": {
      const way = Math.min(Math.max(by, least - first), most - last);
      const inside = first <= keep && keep <= last;
      return { ...span, first: first + way, last: last + way, keep: inside ? keep + way : keep };
    }
    case "first":
      return { ...span, first: Math.min(Math.max(first + by, least), last) };
    case "last":
      return { ...span, last: Math.max(Math.min(last + by, most), first) };
    case "keep":
      return { ...span, keep: keep + by };
    case "entry":
      return { ...span, entry: Math.max(span.entry - by, 0) };
    case "exit":
      return { ...span, exit: Math.max(span.exit + by, 0) };
  }
}
