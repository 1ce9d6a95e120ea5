import { create } from "zustand";

import { goTo, usePlayer } from "./player";

/** Chosen keys of one curve: a channel's own, or the one on a layer (`l1:rotation.z`). */
export interface KeyPick {
  part: string;
  channel: string;
  frames: number[];
}

export interface Selection {
  /** The part whose channels are shown: the one chosen last. */
  part: string | null;
  /** All chosen parts. */
  parts: string[];
  channel: string | null;
  step: string | null;
  keys: KeyPick[];
}

const nothing: Selection = { part: null, parts: [], channel: null, step: null, keys: [] };
const noFrames: number[] = [];

/** What is chosen. It stands in the browser's address, so that a link shows the same. */
export const useSelection = create<Selection>(() => nothing);

/** Chooses one part, or none. */
export function choosePart(part: string | null) {
  const now = useSelection.getState();
  const same = part === now.part && now.parts.length === (part ? 1 : 0);
  if (!same) chooseParts(part ? [part] : [], part);
}

/** Chooses several parts; the last is the one whose channels are shown. */
export function chooseParts(parts: string[], last = parts.at(-1) ?? null) {
  const { part, channel, keys } = useSelection.getState();
  const kept = last === part ? { channel, keys } : {};
  useSelection.setState({ ...nothing, ...kept, part: last, parts });
}

/** Adds a part to those chosen, or takes it out. */
export function togglePart(part: string) {
  const { parts } = useSelection.getState();
  chooseParts(parts.includes(part) ? parts.filter((one) => one !== part) : [...parts, part]);
}

export function chooseChannel(part: string, channel: string) {
  const now = useSelection.getState();
  if (now.part === part && now.channel === channel) return;
  const parts = now.parts.includes(part) ? now.parts : [part];
  useSelection.setState({ part, parts, channel, step: null, keys: [] });
}

export function chooseStep(step: string | null) {
  useSelection.setState({ step });
}

export function chooseKeys(keys: KeyPick[]) {
  useSelection.setState({ keys: keys.filter(({ frames }) => frames.length) });
}

/** The frames of the chosen keys of one curve. */
export function useChosenFrames(part: string, channel: string): number[] {
  return useSelection(({ keys }) => framesOf(keys, part, channel));
}

export function framesOf(keys: KeyPick[], part: string, channel: string): number[] {
  return keys.find((one) => one.part === part && one.channel === channel)?.frames ?? noFrames;
}

/** Adds keys to those chosen; a single key that was chosen already is taken out. */
export function addKeys(more: KeyPick[]) {
  const picks = new Map(
    useSelection.getState().keys.map((pick) => [`${pick.part}/${pick.channel}`, pick]),
  );
  const single = more.length === 1 && more[0]?.frames.length === 1;
  for (const { part, channel, frames } of more) {
    const name = `${part}/${channel}`;
    const before = picks.get(name)?.frames ?? [];
    const out = single && before.includes(frames[0] ?? NaN);
    const next = out ? before.filter((f) => f !== frames[0]) : [...new Set([...before, ...frames])];
    picks.set(name, { part, channel, frames: next.sort((a, b) => a - b) });
  }
  chooseKeys([...picks.values()]);
}

/** What an address may ask for. */
export interface There {
  /** The channels of each part. */
  channels: (part: string) => string[] | undefined;
  /** The part that is shown where the address asks for none. */
  begin: string | null;
  first: number;
  last: number;
}

/** Takes selection and frame from the address. Gives back, in words, what it asks for that is not
 * there; the nearest is shown in its place. */
export function readAddress({ channels, begin, first, last }: There): string[] {
  const query = new URLSearchParams(window.location.search);
  const missing: string[] = [];
  const wanted = { part: query.get("part"), channel: query.get("channel"), frame: query.get("frame") };
  const known = wanted.part === null ? undefined : channels(wanted.part);
  const part = known ? wanted.part : begin;
  if (wanted.part !== null && !known) missing.push("its part is not in this scene any more");
  const channel = wanted.channel !== null && known?.includes(wanted.channel) ? wanted.channel : null;
  if (known && wanted.channel !== null && channel === null) missing.push("its channel is not on this part any more");
  useSelection.setState({ ...nothing, part, parts: part ? [part] : [], channel });
  const frame = Number(wanted.frame);
  if (wanted.frame !== null && Number.isFinite(frame)) {
    goTo(frame);
    if (frame < first || frame > last) missing.push(`frame ${wanted.frame} is outside ${String(first)} to ${String(last)}`);
  }
  return missing;
}

/** Keeps the address up to date; gives back what ends that. */
export function writeAddress() {
  let timer = 0;
  const write = () => {
    window.clearTimeout(timer);
    timer = window.setTimeout(() => {
      const { part, channel } = useSelection.getState();
      const { frame, playing } = usePlayer.getState();
      if (playing) return;
      const query = new URLSearchParams();
      if (part) query.set("part", part);
      if (part && channel) query.set("channel", channel);
      query.set("frame", String(frame));
      const driven = new URLSearchParams(window.location.search).get("driven");
      if (driven) query.set("driven", driven);
      window.history.replaceState(window.history.state, "", `?${query.toString()}`);
    }, 150);
  };
  const ends = [useSelection.subscribe(write), usePlayer.subscribe(write)];
  return () => {
    window.clearTimeout(timer);
    for (const end of ends) end();
  };
}
