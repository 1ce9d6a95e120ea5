import { expect, it, vi } from "vitest";

import type { Played } from "./receiver";
import { again, inputAt, inputsOf, openReceiver, showFrame, takeBaked, takeSetup, togglePlaying, useReceiver, wordsOn } from "./receiver";
import { rows } from "./recorded";
import { AGAIN } from "../api/queryClient";
import { packed } from "../state/packed.testing";

const played = {
  writers: [
    { name: "stand", kind: "clip", parts: null, spans: [[0, 99, 1]] },
    { name: "look", kind: "look at", parts: ["head"], spans: [[20, 40, 0.5]] },
  ],
} as unknown as Played;

it("gives the last word to the last writer that goes any way there", () => {
  expect(wordsOn(played, "head", 30).map(({ writer, last }) => [writer.name, last])).toEqual([["look", true], ["stand", false]]);
  expect(wordsOn(played, "head", 50).map(({ writer, last }) => [writer.name, last])).toEqual([["look", false], ["stand", true]]);
  expect(wordsOn(played, "tail", 30).map(({ writer }) => writer.name)).toEqual(["stand"]);
});

it("knows what an input was told last", () => {
  const state = { said: { speed: [[0.5, 1], [1, 3]] as [number, number][] }, setup: { inputs: { speed: 7 } }, rate: 60 };
  expect([0, 30, 59, 60].map((frame) => inputAt({ ...state, frame }, "speed"))).toEqual([7, 1, 1, 3]);
  expect(inputAt({ ...state, frame: 0 }, "other")).toBe(0);
});

it("finds all inputs that a setup speaks of", () => {
  const moves = [{ start: "a", to: "b", cause: "over" as const, input: "speed", value: 0, blend: 0 }, { start: "b", to: "a", cause: "button" as const, input: "go", value: 0, blend: 0 }];
  const overrides = [{ name: "look", kind: "look at" as const, place: "eye", by: "speed", parts: [], weight: 1, on: true, axis: [0, 0, 1] as [number, number, number], turn: [0, 0, 0] as [number, number, number] }];
  expect(inputsOf({ moves, overrides })).toEqual([{ name: "speed", kind: "number" }, { name: "go", kind: "button" }, { name: "eye", kind: "place" }]);
});

it("plays round at its own rate from the frame it stands on, one step at a time", () => {
  const steps = new Map<number, (now: number) => void>();
  let count = 0;
  vi.stubGlobal("requestAnimationFrame", (work: (now: number) => void) => steps.set(++count, work) && count);
  vi.stubGlobal("cancelAnimationFrame", (id: number) => steps.delete(id));
  vi.spyOn(performance, "now").mockReturnValue(1000);
  const draw = (at: number) => {
    const asked = [...steps.values()];
    steps.clear();
    for (const one of asked) one(at);
    return useReceiver.getState().frame;
  };
  useReceiver.setState({ played: { ...played, rate: 60, frames: 100 }, frame: 0 });
  togglePlaying();
  expect([999, 1000, 1500, 1500 + 5000 / 3].map(draw)).toEqual([0, 0, 30, 30]);
  togglePlaying();
  togglePlaying();
  expect(steps.size).toBe(1);
  // Standing on a frame stops it; and so does having nothing to play.
  showFrame(42.4);
  expect([useReceiver.getState().playing, steps.size, draw(3000)]).toEqual([false, 0, 42]);
  togglePlaying();
  useReceiver.setState({ played: null });
  draw(3100);
  expect([useReceiver.getState().playing, steps.size]).toEqual([false, 0]);
  showFrame(7);
  expect(useReceiver.getState().frame).toBe(0);
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

it("stands on a frame that there is, when it plays for less long", async () => {
  vi.stubGlobal("cancelAnimationFrame", () => undefined);
  const answer = (last: number) => new Response(packed({ revision: 0, first: 0, last, blocks: [], writers: [] }, []));
  vi.stubGlobal("fetch", () => Promise.resolve(answer(120)));
  openReceiver(4);
  useReceiver.setState({ frame: 500 });
  takeBaked(true);
  await vi.waitFor(() => { expect(useReceiver.getState().played?.frames).toBe(121); });
  expect(useReceiver.getState().frame).toBe(120);
  vi.unstubAllGlobals();
});

it("says nothing of the scene before in another one", async () => {
  const open: ((answer: Response) => void)[] = [];
  vi.stubGlobal("cancelAnimationFrame", () => undefined);
  vi.stubGlobal("fetch", () => new Promise<Response>((done) => { open.push(done); }));
  openReceiver(5);
  takeBaked(true);
  openReceiver(6);
  open[0]?.(new Response(JSON.stringify({ error: "there is no clip" }), { status: 422 }));
  await new Promise((done) => { setTimeout(done); });
  expect([useReceiver.getState().problem, useReceiver.getState().played]).toEqual([null, null]);
  vi.unstubAllGlobals();
});

it("asks for nothing where nothing is baked, and shows nothing any more where the last bake is gone", async () => {
  const open: ((answer: Response) => void)[] = [];
  vi.stubGlobal("cancelAnimationFrame", () => undefined);
  vi.stubGlobal("fetch", () => new Promise<Response>((done) => { open.push(done); }));
  openReceiver(8);
  takeSetup({ inputs: { go: 1 } });
  again();
  expect(open).toHaveLength(0);
  takeBaked(true);
  expect(open).toHaveLength(1);
  useReceiver.setState({ played });
  takeBaked(false);
  expect(useReceiver.getState().played).toBeNull();
  // What was asked for before is too late.
  open[0]?.(new Response(packed({ revision: 0, first: 0, last: 9, blocks: [], writers: [] }, [])));
  await new Promise((done) => { setTimeout(done); });
  expect(useReceiver.getState()).toMatchObject({ played: null, problem: null, setup: { inputs: { go: 1 } } });
  vi.unstubAllGlobals();
});

it("records a value for each frame on which it changes", () => {
  const values = [1, 1, 2, 2, 0];
  expect(rows([0, 0.5, 1, 1.5, 2], (row) => values[row] ?? 0)).toEqual([[0, 1], [1, 2], [2, 0]]);
});

it("plays by itself once the server is back, and asks once for each while until then", async () => {
  const soon = setTimeout;
  vi.useFakeTimers({ toFake: ["setTimeout", "clearTimeout"] });
  vi.stubGlobal("cancelAnimationFrame", () => undefined);
  const away = vi.fn((): Promise<Response> => Promise.reject(new TypeError("nobody there")));
  vi.stubGlobal("fetch", away);
  const passing = async (time: number) => {
    await vi.advanceTimersByTimeAsync(time);
    for (let n = 0; n < 4; n += 1) await new Promise((done) => { soon(done); });
  };
  openReceiver(9);
  takeBaked(true);
  await passing(1);
  for (let n = 0; n < 3; n += 1) {
    again();
    await passing(1);
  }
  expect(useReceiver.getState().problem).toContain("Trying again by itself");
  const before = away.mock.calls.length;
  await passing(AGAIN);
  expect(away.mock.calls.length).toBe(before + 1);
  away.mockImplementation(() => Promise.resolve(new Response(packed({ revision: 0, first: 0, last: 9, blocks: [], writers: [] }, []))));
  await passing(AGAIN);
  expect(useReceiver.getState()).toMatchObject({ problem: null, played: { frames: 10 } });
  takeBaked(false);
  vi.useRealTimers();
  vi.unstubAllGlobals();
});
