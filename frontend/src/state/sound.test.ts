import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { ReferenceView } from "../api/client";
import { closeScene, useOpenScene } from "./openScene";
import { usePlayer } from "./player";
import { followPlayer, secondsIn } from "./sound";

const tick: ReferenceView = { id: "r1", name: "tick", kind: "sound", medium: "m1", first: 10, last: null, opacity: 0.5, place: "beside" } as unknown as ReferenceView;

/** What was heard: from which second of the sound, after which pause, for how long, until it was stopped. */
interface Heard {
  wait: number;
  at: number;
  long: number | undefined;
  stopped: boolean;
}
let heard: Heard[] = [];
let arrive: (() => void)[] = [];
let end: () => void = () => undefined;

class Sounds {
  currentTime = 0;
  destination = {};
  resume = () => Promise.resolve();
  createGain = () => ({ gain: { value: 1 }, connect: () => undefined });
  decodeAudioData = () => Promise.resolve({ duration: 3 });
  createBufferSource() {
    const one: Heard = { wait: 0, at: 0, long: undefined, stopped: false };
    return {
      connect: (next: unknown) => next,
      start: (wait: number, at: number, long?: number) => { heard.push(Object.assign(one, { wait, at, long })); },
      stop: () => { one.stopped = true; },
    };
  }
}

/** Lets everything go on that waits for something that is there. */
const settle = async () => { for (let n = 0; n < 4; n += 1) await new Promise((done) => { setTimeout(done); }); };
const answer = async () => {
  for (const one of arrive.splice(0)) one();
  await settle();
};

beforeEach(() => {
  heard = [];
  arrive = [];
  vi.stubGlobal("AudioContext", Sounds);
  vi.stubGlobal("OfflineAudioContext", Sounds);
  vi.stubGlobal("fetch", () => new Promise<Response>((done) => { arrive.push(() => { done(new Response(new ArrayBuffer(4))); }); }));
  const { header } = useOpenScene.getState();
  useOpenScene.setState({ sceneId: 7, header: { ...header, fps: 10, first: 0, last: 99, references: [tick] } });
  usePlayer.setState({ frame: 20, playing: false });
  end = followPlayer();
});
afterEach(() => {
  end();
  closeScene();
  usePlayer.setState({ frame: 0, playing: false });
  vi.unstubAllGlobals();
});

it("knows where in a sound a frame is", () => {
  expect([0, 10, 25].map((frame) => secondsIn(tick, frame, 10))).toEqual([-1, 0, 1.5]);
});

it("is heard from where it plays on, in time, and silent when it stops", async () => {
  usePlayer.setState({ playing: true });
  // While the sound comes, three frames go by.
  usePlayer.setState({ frame: 23 });
  await answer();
  expect(heard).toEqual([{ wait: 0, at: 1.3, long: undefined, stopped: false }]);
  usePlayer.setState({ playing: false });
  expect(heard[0]?.stopped).toBe(true);
});

it("waits for its first frame, ends with its last one, and begins again when it goes round", async () => {
  const { header } = useOpenScene.getState();
  useOpenScene.setState({ header: { ...header, references: [{ ...tick, last: 14 }] } });
  usePlayer.setState({ frame: 5, playing: true });
  await answer();
  expect(heard).toEqual([{ wait: 0.5, at: 0, long: 0.5, stopped: false }]);
  usePlayer.setState({ frame: 99 });
  usePlayer.setState({ frame: 0 });
  await settle();
  expect(heard.map(({ wait, stopped }) => [wait, stopped])).toEqual([[0.5, true], [1, false]]);
});

it("is heard once, however often it was started before it had come", async () => {
  for (const playing of [true, false, true, false, true]) usePlayer.setState({ playing });
  await answer();
  expect(heard).toHaveLength(1);
});

it("is heard for a moment on the frame that is gone to, and on no other that was passed", async () => {
  for (const frame of [30, 31, 32]) usePlayer.setState({ frame });
  await answer();
  expect(heard).toEqual([{ wait: 0, at: 2.2, long: 0.08, stopped: false }]);
  usePlayer.setState({ frame: 4 });
  usePlayer.setState({ frame: 80 });
  await settle();
  // Before it begins and behind its end there is nothing to hear.
  expect(heard).toHaveLength(1);
});

it("is not heard when it is silenced, or cannot be read", async () => {
  const { header } = useOpenScene.getState();
  useOpenScene.setState({ header: { ...header, references: [{ ...tick, opacity: 0 }] } });
  usePlayer.setState({ playing: true });
  await answer();
  useOpenScene.setState({ header });
  vi.stubGlobal("fetch", () => Promise.resolve(new Response("", { status: 404 })));
  usePlayer.setState({ playing: false });
  usePlayer.setState({ playing: true });
  await settle();
  expect(heard).toEqual([]);
});
