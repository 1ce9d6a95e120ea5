import { create } from "zustand";

import type { DrivenView, OneEdit } from "../api/client";
import { useOpenScene } from "./openScene";
import { perScene } from "./perScene";
import { usePlayer } from "./player";
import { feed } from "./samples";

/** What is wanted of channels at a stop, by `part/channel`; saved only when it is captured. */
export type DriverPose = Record<string, number>;

interface Posing {
  /** The chosen set of driven keys. */
  driven: string | null;
  /** The driver's value that is tried; null: it runs as it is keyed. */
  at: number | null;
  /** The stop that is being posed. */
  stop: number | null;
  /** Poses that are not captured yet, by `set@stop`: choosing another stop loses none. */
  drafts: Record<string, DriverPose>;
}

/** Trying a driver and posing its stops. Nothing here is saved until it is captured. */
export const usePosing = create<Posing>(() => ({ driven: null, at: null, stop: null, drafts: {} }));

perScene(() => { change({ driven: null, at: null, stop: null, drafts: {} }); });

export function draftName(driven: string, stop: number): string {
  return `${driven}@${String(stop)}`;
}

/** The pose that is held for the chosen stop. */
export function chosenDraft({ driven, stop, drafts }: Posing): DriverPose {
  return (driven !== null && stop !== null && drafts[draftName(driven, stop)]) || none;
}
const none: DriverPose = {};

export function chooseDriven(driven: string | null) {
  change({ driven, at: null, stop: null });
}

/** Tries a value of the driver; null ends that. */
export function tryDriver(at: number | null) {
  const { stop } = usePosing.getState();
  change({ at, stop: at === stop ? stop : null });
}

/** Begins to pose a stop: the driver stands there. */
export function poseStop(stop: number) {
  change({ at: stop, stop });
}

/** Holds a value for the stop that is being posed, if the channel has a row; says whether. */
export function holdForStop(part: string, channel: string, value: number): boolean {
  const { driven, stop } = usePosing.getState();
  const row = chosenSet()?.rows.find((one) => one.part === part && one.channel === channel);
  if (!row || driven === null || stop === null) return false;
  setDraft(driven, stop, { ...chosenDraft(usePosing.getState()), [`${part}/${channel}`]: value });
  return true;
}

export function setDraft(driven: string, stop: number, pose: DriverPose) {
  const { drafts } = usePosing.getState();
  const others = Object.entries(drafts).filter(([name]) => name !== draftName(driven, stop));
  const own: [string, DriverPose][] = Object.keys(pose).length ? [[draftName(driven, stop), pose]] : [];
  change({ drafts: Object.fromEntries([...others, ...own]) });
}

/** The chosen set, if it is still there. */
export function chosenSet(): DrivenView | undefined {
  const { driven } = usePosing.getState();
  return useOpenScene.getState().header.driven.find(({ id }) => id === driven);
}

/** The edit that captures a pose at a stop. */
export function captureEdit(driven: string, stop: number, pose: DriverPose): OneEdit {
  const values = Object.entries(pose).map(([name, value]): [string, string, number] => {
    const [part = "", channel = ""] = name.split("/");
    return [part, channel, value];
  });
  return { do: "capture stop", driven, stop, frame: usePlayer.getState().frame, values };
}

function change(next: Partial<Posing>) {
  usePosing.setState(next);
  const posing = usePosing.getState();
  const { driven, at, stop } = posing;
  const edits: OneEdit[] = [];
  const pose = chosenDraft(posing);
  if (driven !== null && chosenSet()) {
    if (stop !== null && Object.keys(pose).length) edits.push(captureEdit(driven, stop, pose));
    if (at !== null) edits.push({ do: "change driven keys", driven, driver: String(at) });
  }
  feed.keepTrying("stops", edits);
}
