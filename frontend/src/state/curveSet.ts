import { create } from "zustand";

import type { PartView } from "../api/client";
import { channelsInScope } from "./keying";
import { useOpenScene } from "./openScene";
import { perScene } from "./perScene";
import { useSelection } from "./selection";

/** Whose curves stand beside the chosen one. */
export type Beside = "nothing" | "its group" | "its part" | "chosen parts" | "key scope";

interface CurveSet {
  beside: Beside;
  /** Each curve on a scale of its own, or all on that of the chosen one. */
  scale: "own scales" | "one scale";
  /** Curves that are hidden, by `part/channel`. */
  hidden: string[];
}

export const useCurveSet = create<CurveSet>(() => ({ beside: "its group", scale: "own scales", hidden: [] }));

perScene(() => { useCurveSet.setState({ hidden: [] }); });

export function toggleCurve(name: string) {
  useCurveSet.setState(({ hidden }) => ({ hidden: hidden.includes(name) ? hidden.filter((one) => one !== name) : [...hidden, name] }));
}

export interface CurveRef {
  part: string;
  channel: string;
  /** `part/channel`. */
  key: string;
  name: string;
}

/** The channels of a part that something moves: keys, layers or steps. */
export function movingChannels(part: PartView): string[] {
  const written = new Set(part.steps.flatMap(({ writes, on }) => (on ? writes : [])));
  return part.channels
    .filter(({ id, curve, on_layers }) => curve !== null || Object.keys(on_layers).length > 0 || written.has(id))
    .map(({ id }) => id);
}

/** The curves beside the chosen channel; with none chosen, those of the chosen parts, the shown one's first. */
export function curvesBeside(beside: Beside): CurveRef[] {
  const { parts } = useOpenScene.getState();
  const { part, parts: chosen, channel } = useSelection.getState();
  const shown = part ? parts[part] : undefined;
  if (!part || !shown) return [];
  const moving = (ids: string[]) => ids.flatMap((id) => (parts[id] ? movingChannels(parts[id]).map((one): [string, string] => [id, one]) : []));
  const refs = (): [string, string][] => {
    if (channel === null) return moving([part, ...chosen.filter((id) => id !== part)]);
    if (beside === "its part") return moving([part]);
    const group = /^(translation|rotation|scale)\./.exec(channel)?.[0];
    if (beside === "its group") return group ? shown.channels.filter(({ id }) => id.startsWith(group)).map(({ id }) => [part, id]) : [];
    if (beside === "key scope") return channelsInScope();
    if (beside === "chosen parts") return moving(chosen);
    return [];
  };
  return refs()
    .filter(([owner, id]) => owner !== part || id !== channel)
    .slice(0, most)
    .map(([owner, id]) => {
      const name = parts[owner]?.channels.find((one) => one.id === id)?.name ?? id;
      return { part: owner, channel: id, key: `${owner}/${id}`, name: owner === part ? name : `${parts[owner]?.name ?? ""}.${name}` };
    });
}

/** How many are drawn at most. */
const most = 60;
