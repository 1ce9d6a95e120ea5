import { create } from "zustand";

import type { Setup } from "../api/client";
import { passes, postForBinary, reasonNow } from "../api/client";
import { AGAIN } from "../api/queryClient";
import type { Block } from "../state/samples";
import { headerOf, unpacked } from "../state/samples";

/** Somebody who would write parts: on which spans of frames, and how far at most there. */
export interface Writer {
  name: string;
  kind: string;
  /** The parts that it writes; null: all. */
  parts: string[] | null;
  spans: [number, number, number][];
}

/** What a receiver played: places of parts by name, and who wrote what. */
export interface Played {
  blocks: Record<string, Block>;
  frames: number;
  rate: number;
  names: string[];
  clips: { name: string; seconds: number; fps: number }[];
  stretches: { clip: string; first: number; end: number; blend: number }[];
  chases: { first: number; last: number; clips: string[] }[];
  missing: string[];
  writers: Writer[];
}

interface Receiver {
  sceneId: number;
  /** Whether there is anything to play. */
  baked: boolean;
  setup: Setup;
  /** What inputs were told, by name: seconds and values. */
  said: Record<string, [number, number][]>;
  seconds: number;
  rate: number;
  played: Played | null;
  problem: string | null;
  frame: number;
  playing: boolean;
}

const fresh = { baked: false, setup: {}, said: {}, played: null, problem: null, frame: 0, playing: false };

/** The receiver of the open scene. Its setup is the scene's; what inputs are told is live. */
export const useReceiver = create<Receiver>(() => ({ ...fresh, sceneId: 0, seconds: 10, rate: 60 }));

/** Opens a scene's receiver. */
export function openReceiver(sceneId: number) {
  if (useReceiver.getState().sceneId === sceneId) return;
  stopPlaying();
  useReceiver.setState({ ...fresh, sceneId });
}

/** Gives the receiver a setup, and plays anew. */
export function takeSetup(setup: Setup) {
  useReceiver.setState({ setup });
  again();
}

/** Tells an input a value from now on. */
export function tell(name: string, value: number) {
  const { said, frame, rate } = useReceiver.getState();
  const now = frame / rate;
  const before = (said[name] ?? []).filter(([time]) => time < now - 1e-9);
  useReceiver.setState({ said: { ...said, [name]: [...before, [now, value]] } });
  again();
}

/** Tells inputs what they are over time, in the place of what they were told before. */
export function tellOverTime(told: Record<string, [number, number][]>) {
  useReceiver.setState(({ said }) => ({ said: { ...said, ...told } }));
  again();
}

/** An input's value on the frame that is shown. */
export function inputAt({ said, setup, frame, rate }: Pick<Receiver, "said" | "setup" | "frame" | "rate">, name: string): number {
  const now = frame / rate + 1e-9;
  return (said[name] ?? []).findLast(([time]) => time <= now)?.[1] ?? setup.inputs?.[name] ?? 0;
}

/** Forgets what inputs were told. */
export function forgetInputs() {
  useReceiver.setState({ said: {} });
  again();
}

let asked = 0;
let busy = false;
let later: ReturnType<typeof setTimeout> | undefined;

/** Says whether there is anything to play: plays it anew, or nothing any more. */
export function takeBaked(baked: boolean) {
  useReceiver.setState(baked ? { baked } : { baked, played: null, problem: null });
  again();
}

/** Plays anew: one request at a time, always for the newest state. */
export function again() {
  if (!useReceiver.getState().baked) return;
  asked += 1;
  if (!busy) void run();
}

async function run() {
  busy = true;
  let done = 0;
  while (done !== asked) {
    done = asked;
    const { sceneId, setup, said, seconds, rate } = useReceiver.getState();
    try {
      const buffer = await postForBinary(`/api/scenes/${String(sceneId)}/receive`, { setup, said, seconds, rate });
      const now = useReceiver.getState();
      if (now.sceneId !== sceneId || !now.baked) continue;
      const played = playedOf(buffer);
      useReceiver.setState(({ frame }) => ({ played, problem: null, frame: Math.min(frame, played.frames - 1) }));
    } catch (error) {
      const now = useReceiver.getState();
      if (now.sceneId !== sceneId || !now.baked) continue;
      useReceiver.setState({ problem: reasonNow(error), played: null });
      clearTimeout(later);
      if (passes(error)) later = setTimeout(again, AGAIN);
    }
  }
  busy = false;
}

function playedOf(buffer: ArrayBuffer): Played {
  const header = headerOf(buffer) as unknown as Omit<Played, "blocks" | "frames"> & { last: number };
  return { ...header, frames: header.last + 1, blocks: unpacked(buffer).blocks };
}

/** The next step of what plays, to be taken back when it stops: one alone is under way. */
let step = 0;

function stopPlaying() {
  cancelAnimationFrame(step);
  useReceiver.setState({ playing: false });
}

/** Starts or stops; it plays at its own rate and goes round. */
export function togglePlaying() {
  const { playing, frame: from } = useReceiver.getState();
  if (playing) {
    stopPlaying();
    return;
  }
  useReceiver.setState({ playing: true });
  const start = performance.now();
  const tick = (now: number) => {
    const { played, frame } = useReceiver.getState();
    if (!played) {
      stopPlaying();
      return;
    }
    const passed = Math.max(Math.floor(((now - start) / 1000) * played.rate), 0);
    const next = (from + passed) % played.frames;
    if (next !== frame) useReceiver.setState({ frame: next });
    step = requestAnimationFrame(tick);
  };
  step = requestAnimationFrame(tick);
}

export function showFrame(frame: number) {
  const { played } = useReceiver.getState();
  stopPlaying();
  useReceiver.setState({ frame: Math.min(Math.max(Math.round(frame), 0), (played?.frames ?? 1) - 1) });
}

/** The writers of a part, the last one first, each with whether it has the last word on a frame. */
export function wordsOn({ writers }: Played, part: string, frame: number): { writer: Writer; on: boolean; last: boolean }[] {
  const rows = writers
    .filter(({ parts }) => parts === null || parts.includes(part))
    .map((writer) => ({ writer, on: writer.spans.some(([a, b]) => frame >= a && frame <= b), last: false }))
    .reverse();
  const first = rows.find(({ on }) => on);
  if (first) first.last = true;
  return rows;
}

export interface Input {
  name: string;
  kind: "number" | "button" | "place";
}

/** All inputs that a setup speaks of. */
export function inputsOf(setup: Setup): Input[] {
  const found = new Map<string, Input["kind"]>();
  for (const { input, cause } of setup.moves ?? []) if (input) found.set(input, cause === "button" ? "button" : "number");
  for (const { by, input, place: at } of setup.overrides ?? []) {
    for (const name of [input, by]) if (name && !found.has(name)) found.set(name, "number");
    if (at) found.set(at, "place");
  }
  return [...found].map(([name, kind]) => ({ name, kind }));
}
