import { create } from "zustand";

import type { ChannelView, Curve, OneEdit, SceneHeader } from "../api/client";
import { useOpenScene } from "./openScene";
import { perScene } from "./perScene";
import { feed } from "./samples";
import { useSelection } from "./selection";

/** Which channels a key command writes; `set:g1` stands for a saved set. */
export type Scope =
  | "channel" | "all" | "position" | "rotation" | "scale" | "own channels" | "changed only"
  | `set:${string}`;

/** What a change by hand does to keys: a try-out only, keys where there are keys, or always. */
export type AutoKey = "off" | "where keyed" | "always";

/** A value that is only tried: on which frame, and not saved. */
export interface TryOut {
  part: string;
  channel: string;
  frame: number;
  value: number;
}

interface Keying {
  scope: Scope;
  autoKey: AutoKey;
  /** The layer that keys go to; null: the channels' own curves. */
  layer: string | null;
  tryOuts: TryOut[];
}

/** How keying works now: scope, automatic keys, the chosen layer, and values that are tried. */
export const useKeyState = create<Keying>(() => ({
  scope: "channel",
  autoKey: "where keyed",
  layer: null,
  tryOuts: [],
}));

perScene(() => {
  dropTryOuts();
  useKeyState.setState(({ scope }) => ({ layer: null, scope: scope.startsWith("set:") ? "channel" : scope }));
});

/** The chosen layer, if it is still there. */
export function chosenLayer(): string | null {
  return layerIn(useOpenScene.getState().header, useKeyState.getState().layer);
}

/** See ``chosenLayer``. */
export function useChosenLayer(): string | null {
  const layer = useKeyState((keying) => keying.layer);
  return useOpenScene(({ header }) => layerIn(header, layer));
}

function layerIn({ layers }: SceneHeader, layer: string | null): string | null {
  return layers.some(({ id }) => id === layer) ? layer : null;
}

/** The edit that gives channels values by hand on a frame, after the state of keying. */
export function valuesEdit(frame: number, values: [string, string, number][]): OneEdit {
  const layer = chosenLayer();
  if (layer !== null || useKeyState.getState().autoKey === "always") {
    return { do: "key value", frame, values, layer };
  }
  return { do: "set channels", frame, values };
}

/** Whether changes by hand are try-outs only. */
export function onlyTries(): boolean {
  return useKeyState.getState().autoKey === "off";
}

/** The channels that one field stands for: that of the part which is shown, then those of the same
 * name of all others that are chosen with it; locked ones left out. */
export function alikeChannels(part: string, channel: ChannelView): [string, ChannelView][] {
  const { parts } = useOpenScene.getState();
  const others = useSelection.getState().parts.filter((id) => id !== part);
  const found = others.flatMap((id): [string, ChannelView][] => {
    const one = parts[id]?.channels.find(({ name }) => name === channel.name);
    return one && !one.locked ? [[id, one]] : [];
  });
  return [[part, channel], ...found];
}

/** Adds try-outs; they are shown everywhere and saved nowhere. */
export function addTryOuts(more: TryOut[]) {
  setTryOuts(added(useKeyState.getState().tryOuts, more));
}

function added(tryOuts: TryOut[], more: TryOut[]): TryOut[] {
  const names = new Set(more.map(({ part, channel }) => `${part}/${channel}`));
  return [...tryOuts.filter(({ part, channel }) => !names.has(`${part}/${channel}`)), ...more];
}

export function dropTryOuts() {
  setTryOuts([]);
}

/** Hands all try-outs over to be stored. They are shown until that is done; where it is refused they are
 * try-outs again, but for channels that were tried anew meanwhile. */
export async function handOverTryOuts(store: () => Promise<boolean>) {
  const { sceneId } = useOpenScene.getState();
  const { tryOuts: handed } = useKeyState.getState();
  useKeyState.setState({ tryOuts: [] });
  const stored = await store();
  if (useOpenScene.getState().sceneId !== sceneId) return;
  const { tryOuts } = useKeyState.getState();
  setTryOuts(stored ? tryOuts : added(handed, tryOuts));
}

/** The edits that keep all try-outs: as keys, or as values by hand are kept otherwise, which keys
 * where there are keys. */
export function tryOutEdits(keyed: boolean): OneEdit[] {
  return editsOf(useKeyState.getState().tryOuts, keyed);
}

function editsOf(tryOuts: TryOut[], keyed: boolean): OneEdit[] {
  const layer = chosenLayer();
  return tryOuts.map(({ part, channel, frame, value }) => ({
    do: keyed ? "key value" : "set channels",
    frame,
    values: [[part, channel, value]],
    layer,
  }));
}

function setTryOuts(tryOuts: TryOut[]) {
  useKeyState.setState({ tryOuts });
  feed.keepTrying("try-outs", editsOf(tryOuts, false));
}

const prefixes: Partial<Record<Scope, string>> = {
  position: "translation.",
  rotation: "rotation.",
  scale: "scale.",
};
const builtIn = /^(translation|rotation|scale)\.[xyz]$|^visible$/;

/** The channels that a key command would write now. */
export function channelsInScope(): [string, string][] {
  const { scope, tryOuts } = useKeyState.getState();
  const { parts, header } = useOpenScene.getState();
  const { part, parts: chosen, channel } = useSelection.getState();
  if (scope === "channel") return part && channel ? [[part, channel]] : [];
  if (scope === "changed only") return tryOuts.map((one) => [one.part, one.channel]);
  if (scope.startsWith("set:")) {
    const set = header.sets.find(({ id }) => `set:${id}` === scope);
    const whole = (set?.parts ?? []).flatMap((id) => channelsOf(parts[id]?.channels ?? [], id, "all"));
    const single = (set?.channels ?? []) as [string, string][];
    const names = new Set(whole.map(String));
    return [...whole, ...single.filter((ref) => !names.has(String(ref)))];
  }
  return chosen.flatMap((id) => channelsOf(parts[id]?.channels ?? [], id, scope));
}

/** The channels of a part that belong to its pose and to a scope, locked ones left out. */
export function channelsOf(channels: ChannelView[], part: string, scope: Scope): [string, string][] {
  const wanted = ({ id }: ChannelView) => {
    if (scope === "own channels") return !builtIn.test(id);
    return id.startsWith(prefixes[scope] ?? "");
  };
  return channels
    .filter((one) => !one.locked && !one.id.endsWith(".weight") && wanted(one))
    .map((one) => [part, one.id]);
}

/** The curve that is keyed now: the channel's own, or the one on the chosen layer. */
export function keyedCurve(channel: ChannelView, layer: string | null) {
  return layer === null ? channel.curve : (channel.on_layers[layer] ?? null);
}

/** Where that curve is found. */
export function keyedId(channel: ChannelView, layer: string | null) {
  return layer === null ? channel.id : `${layer}:${channel.id}`;
}

/** The whole frames on which the keys of some curves stand, or to which they are nearest, ascending: a
 * playhead never stands between frames. */
export function wholeFrames(curves: Curve[]): number[] {
  return [...new Set(curves.flatMap(({ keys }) => keys.map(({ frame }) => Math.round(frame))))].sort((a, b) => a - b);
}

/** The whole frames with keys of the chosen parts, on any layer; where no part is chosen, of all. */
export function keyedFrames(): number[] {
  const { parts } = useOpenScene.getState();
  const chosen = useSelection.getState().parts;
  const of = chosen.length ? chosen : Object.keys(parts);
  return wholeFrames(of.flatMap((id) => parts[id]?.channels ?? []).flatMap(({ curve, on_layers }) => [...(curve ? [curve] : []), ...Object.values(on_layers)]));
}
