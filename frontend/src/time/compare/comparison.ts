import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { create } from "zustand";

import type { CompareView, CompareWish, Curve, PartView } from "../../api/client";
import { post } from "../../api/client";
import { curveIn, useOpenScene } from "../../state/openScene";
import { perScene } from "../../state/perScene";
import type { Block } from "../../state/samples";

/** All curves as they were at a revision. */
interface Reference {
  revision: number;
  parts: Record<string, PartView>;
}

/** What is laid over the chosen channel's curve. */
interface Comparing {
  /** What is kept as the reference, by scene. */
  reference: Record<number, Reference>;
  what: "nothing" | "reference" | "channel";
  other: { part: string; channel: string } | null;
  mirrored: boolean;
  shift: number;
  fit: boolean;
  slope: boolean;
}

export const useComparing = create<Comparing>(() => ({
  reference: {},
  what: "nothing",
  other: null,
  mirrored: false,
  shift: 0,
  fit: false,
  slope: false,
}));

perScene(() => { useComparing.setState({ what: "nothing", other: null }); });

/** Keeps all curves as they are now as the reference. */
export function keepReference() {
  const { sceneId, header, parts } = useOpenScene.getState();
  useComparing.setState(({ reference }) => ({
    reference: { ...reference, [sceneId]: { revision: header.revision, parts } },
    what: "reference",
  }));
}

export interface KeptCurve {
  part: string;
  channel: string;
  curve: Curve;
}

/** The curves that the reference keeps of these channels; null without a reference. */
export function keptCurves(channels: { part: string; channel: string }[]): KeptCurve[] | null {
  const kept = useComparing.getState().reference[useOpenScene.getState().sceneId];
  if (!kept) return null;
  return channels.flatMap(({ part, channel }) => {
    const curve = curveIn(kept.parts, part, channel);
    return curve ? [{ part, channel, curve }] : [];
  });
}

export interface Comparison {
  view: CompareView;
  showsOther: boolean;
  showsSlope: boolean;
}

/** The comparison of a channel, brought up to date after each edit; null while there is none. */
export function useComparison(part: string, channel: string): Comparison | null {
  const { reference, what, other, mirrored, shift, fit, slope } = useComparing();
  const sceneId = useOpenScene((scene) => scene.sceneId);
  const revision = useOpenScene((scene) => scene.header.revision);
  const one = { part, channel };
  const kept = reference[sceneId]?.revision;
  const side =
    what === "reference" && kept !== undefined
      ? { ...one, revision: kept }
      : what === "channel" && other
        ? other
        : null;
  const changes = what === "channel" ? { mirrored, shift, fit } : {};
  const wish: CompareWish = { one, other: side ?? one, ...changes };
  const { data } = useQuery({
    queryKey: ["compare", sceneId, revision, wish],
    queryFn: () => post<CompareView>(`/api/scenes/${String(sceneId)}/compare`, wish),
    enabled: side !== null || slope,
    placeholderData: (before) => before,
    retry: false,
  });
  const showsOther = side !== null;
  return useMemo(
    () => (data && (showsOther || slope) ? { view: data, showsOther, showsSlope: slope } : null),
    [data, showsOther, slope],
  );
}

export interface Overlay {
  name: string;
  block: Block;
}

/** The lines to draw for a comparison. */
export function overlaysOf(comparison: Comparison | null): Overlay[] {
  if (!comparison) return [];
  const { view, showsOther, showsSlope } = comparison;
  const block = (name: string, values: number[]): Overlay => ({
    name,
    block: { key: name, frames: values.length, width: 1, data: Float32Array.from(values) },
  });
  return [
    ...(showsOther ? [block("other", view.other)] : []),
    ...(showsSlope ? [block("slope", view.slope)] : []),
  ];
}
