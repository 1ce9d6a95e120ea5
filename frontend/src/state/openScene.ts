import { replaceEqualDeep } from "@tanstack/react-query";
import { create } from "zustand";

import type { ChannelView, Curve, PartView, SceneHeader, SceneView } from "../api/client";
import { useSelection } from "./selection";

/** The open scene as the browser holds it: parts by id, kept up to date by answers to edits. */
interface OpenScene {
  sceneId: number;
  header: SceneHeader;
  order: string[];
  parts: Record<string, PartView>;
}

const nothing: OpenScene = {
  sceneId: 0,
  header: { id: 0, name: "", fps: 24, first: 0, last: 0, units: {}, revision: 0, undo: null, redo: null, looped: [], layers: [], sets: [], markers: [], driven: [], probes: [], leads: [], limbs: [], gaits: [], surfaces: [], what_ifs: [], references: [] },
  order: [],
  parts: {},
};

/** What is shown of the scene. Components take just what they draw, so that an edit redraws
 * only what it changed. */
export const useOpenScene = create<OpenScene>(() => nothing);

/** Takes the server's view of a scene, whole or what an edit changed of it. */
export function takeView(sceneId: number, view: SceneView) {
  const before = useOpenScene.getState();
  const parts: Record<string, PartView> = {};
  if (!view.whole && before.sceneId === sceneId) {
    for (const id of view.order) {
      const part = before.parts[id];
      if (part) parts[id] = part;
    }
  }
  for (const part of view.parts) parts[part.id] = replaceEqualDeep(before.parts[part.id], part);
  const sameOrder =
    before.order.length === view.order.length && before.order.every((id, n) => id === view.order[n]);
  const order = sameOrder ? before.order : view.order;
  const header = before.sceneId === sceneId ? replaceEqualDeep(before.header, view.header) : view.header;
  useOpenScene.setState({ sceneId, header, order, parts });
}

/** Forgets the scene that was open. */
export function closeScene() {
  useOpenScene.setState(nothing, true);
}

/** The part that a scene is opened at: the first that has keys, else the first; null where there is none. */
export function firstToShow(): string | null {
  const { order, parts } = useOpenScene.getState();
  const keyed = order.find((id) => parts[id]?.channels.some(({ curve, on_layers }) => curve !== null || Object.keys(on_layers).length > 0));
  return keyed ?? order[0] ?? null;
}

/** A part of the open scene. */
export function usePart(id: string | null | undefined): PartView | undefined {
  return useOpenScene((scene) => (id ? scene.parts[id] : undefined));
}

/** A curve by where it is found: a channel's own, or `layer:channel`. */
export function curveIn(parts: Record<string, PartView>, part: string, id: string): Curve | null {
  const [layer, channel] = id.includes(":") ? id.split(":") : [null, id];
  const found = parts[part]?.channels.find((one) => one.id === channel);
  return (layer == null ? found?.curve : found?.on_layers[layer]) ?? null;
}

/** The unit of a channel's values, on a layer or not. */
export function unitIn(parts: Record<string, PartView>, part: string, id: string): string {
  const channel = id.split(":").at(-1);
  return parts[part]?.channels.find((one) => one.id === channel)?.unit ?? "";
}

/** See ``curveIn``, of the open scene. */
export function useCurve(part: string, id: string): Curve | null {
  return useOpenScene((scene) => curveIn(scene.parts, part, id));
}

/** The chosen part, if it is there. */
export function useChosenPart(): PartView | undefined {
  return usePart(useSelection((selection) => selection.part));
}

/** The name of the chosen part, if it is there: for what need not follow its channels. */
export function useChosenName(): string | undefined {
  const id = useSelection((selection) => selection.part);
  return useOpenScene((scene) => (id ? scene.parts[id]?.name : undefined));
}

/** The chosen part and channel as they are now, if they are there. */
export function chosenNow(): { part: PartView; channel: ChannelView } | undefined {
  const { part: id, channel: wanted } = useSelection.getState();
  const part = id ? useOpenScene.getState().parts[id] : undefined;
  const channel = part?.channels.find((one) => one.id === wanted);
  return part && channel && { part, channel };
}

/** The chosen channel of the chosen part, if it is there. */
export function useChosenChannel(): ChannelView | undefined {
  const part = useChosenPart();
  const id = useSelection((selection) => selection.channel);
  return part?.channels.find((channel) => channel.id === id);
}
