import type { ReferenceView } from "../api/client";
import { useOpenScene } from "./openScene";
import { usePlayer } from "./player";
import { mediumAt } from "./references";

/** How long a sound is heard on a frame that is only gone to, in seconds. */
const grain = 0.08;

const known = new Map<string, Promise<AudioBuffer | null>>();
let context: AudioContext | null = null;
let playing: AudioBufferSourceNode[] = [];
/** How often it was hushed: what is still being read then is not heard any more. */
let hushed = 0;

/** The samples of a sound; nothing where the browser cannot read it. Each is read once. */
export function soundOf(medium: string): Promise<AudioBuffer | null> {
  const address = mediumAt(medium);
  const found = known.get(address) ?? read(address);
  known.set(address, found);
  return found;
}

async function read(address: string): Promise<AudioBuffer | null> {
  try {
    const answer = await fetch(address);
    if (!answer.ok) return null;
    // Reading needs no sound card, and nobody's leave to make a noise.
    return await new OfflineAudioContext(1, 1, 44100).decodeAudioData(await answer.arrayBuffer());
  } catch {
    return null;
  }
}

const sounds = () => useOpenScene.getState().header.references.filter(({ kind, opacity }) => kind === "sound" && opacity > 0);

/** Where in a sound a frame is, in seconds; below 0 before it begins. */
export function secondsIn({ first }: ReferenceView, frame: number, fps: number): number {
  return (frame - first) / fps;
}

function hush() {
  hushed += 1;
  for (const source of playing) source.stop();
  playing = [];
}

/** Lets one sound be heard from a frame on, for some seconds or to its end. */
async function hear(one: ReferenceView, frame: number, long?: number) {
  const begun = hushed;
  const samples = await soundOf(one.medium);
  if (!samples || begun !== hushed) return;
  // It may have played on while the sound was read for the first time.
  const { fps } = useOpenScene.getState().header;
  const at = secondsIn(one, long === undefined ? usePlayer.getState().frame : frame, fps);
  if (at >= samples.duration) return;
  context ??= new AudioContext();
  void context.resume();
  const source = context.createBufferSource();
  const loud = context.createGain();
  loud.gain.value = one.opacity;
  source.buffer = samples;
  source.connect(loud).connect(context.destination);
  const rest = one.last === null ? undefined : Math.max((one.last + 1 - one.first) / fps - Math.max(at, 0), 0);
  source.start(context.currentTime + Math.max(-at, 0), Math.max(at, 0), long ?? rest);
  playing.push(source);
}

/** Sounds go along with the playhead from now on: in time while it plays, a moment of them on each frame
 * that it is moved to. The answer ends that. */
export function followPlayer(): () => void {
  const end = usePlayer.subscribe((now, before) => {
    if (now.playing !== before.playing) {
      hush();
      if (now.playing) for (const one of sounds()) void hear(one, now.frame);
    } else if (now.frame < before.frame && now.playing) {
      // It has gone round.
      hush();
      for (const one of sounds()) void hear(one, now.frame);
    } else if (now.frame !== before.frame && !now.playing) {
      hush();
      for (const one of sounds()) if (secondsIn(one, now.frame, useOpenScene.getState().header.fps) >= 0) void hear(one, now.frame, grain);
    }
  });
  return () => {
    end();
    hush();
    known.clear();
  };
}
