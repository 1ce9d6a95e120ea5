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
  /** Curves that stay whatever is chosen, by `part/channel`. */
  pinned: string[];
  /** The only curve that is drawn beside the chosen one, while it is among them. */
  solo: string | null;
}

export const useCurveSet = create<CurveSet>(() => ({ beside: "its group", scale: "own scales", hidden: [], pinned: [], solo: null }));

perScene(() => { useCurveSet.setState({ hidden: [], pinned: [], solo: null }); });

/** Hides a curve or pins it, or takes that back. */
export function toggleCurve(name: string, list: "hidden" | "pinned" = "hidden") {
  useCurveSet.setState(({ [list]: names }) => ({ [list]: names.includes(name) ? names.filter((one) => one !== name) : [...names, name] }));
}

/** Draws this curve alone beside the chosen one, or all of them again. */
export function toggleSolo(name: string) {
  useCurveSet.setState(({ solo }) => ({ solo: solo === name ? null : name }));
}

/** Those of some curves that are drawn. */
export function drawnOf(curves: CurveRef[], { hidden, solo }: Pick<CurveSet, "hidden" | "solo">): CurveRef[] {
  const alone = curves.find(({ key }) => key === solo);
  return alone ? [alone] : curves.filter(({ key }) => !hidden.includes(key));
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

/** The curves beside the chosen channel, pinned ones first; with none chosen, those of the chosen parts, the
 * shown one's first. */
export function curvesBeside(beside: Beside, pinned: string[] = []): CurveRef[] {
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
  const kept = pinned.map((key): [string, string] => [key.slice(0, key.indexOf("/")), key.slice(key.indexOf("/") + 1)]);
  const found = new Map<string, CurveRef>();
  for (const [owner, id] of [...kept, ...refs()]) {
    const name = parts[owner]?.channels.find((one) => one.id === id)?.name;
    if (name === undefined || (owner === part && id === channel) || found.size === most) continue;
    found.set(`${owner}/${id}`, { part: owner, channel: id, key: `${owner}/${id}`, name: owner === part ? name : `${parts[owner]?.name ?? ""}.${name}` });
  }
  return [...found.values()];
}

/** How many are drawn at most. */
const most = 60;
