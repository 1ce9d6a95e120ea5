import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { goTo, playWhat, setKeyedFrames, setRange, stepBy, stop, togglePlay, usePlayer } from "./player";

/** A browser whose frames are drawn by hand: `draw` says at which time, in milliseconds since the page
 * began; how many are asked for is `waiting.size`. */
const waiting = new Map<number, (now: number) => void>();
let now = 1000;

function draw(at: number) {
  now = at;
  const asked = [...waiting.values()];
  waiting.clear();
  for (const one of asked) one(at);
}

const seen = () => usePlayer.getState().frame;

beforeEach(() => {
  let count = 0;
  vi.stubGlobal("requestAnimationFrame", (work: (now: number) => void) => {
    waiting.set(++count, work);
    return count;
  });
  vi.stubGlobal("cancelAnimationFrame", (id: number) => waiting.delete(id));
  vi.spyOn(performance, "now").mockImplementation(() => now);
  now = 1000;
  usePlayer.setState({ frame: 10, playing: false, rate: 0, loop: true, what: { show: "every frame", section: null } });
  setRange({ first: 10, last: 19, fps: 10 });
});
afterEach(() => {
  stop();
  waiting.clear();
  setKeyedFrames(() => []);
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

it("goes to whole frames of the range only", () => {
  for (const [wanted, got] of [[12.4, 12], [12.5, 13], [-5, 10], [99, 19], [10.2, 10]] as const) {
    goTo(wanted);
    expect(seen()).toBe(got);
  }
  setRange({ first: 30, last: 40, fps: 24 });
  expect(seen()).toBe(30);
});

it("plays by the time that has passed, goes round, and leaves frames out where it is late", () => {
  togglePlay();
  const shown = [1050, 1100, 1220, 1350, 1999, 2000, 2150].map((at) => {
    draw(at);
    return seen();
  });
  expect(shown).toEqual([10, 11, 12, 13, 19, 10, 11]);
});

it("never shows a frame before the one it begins on, be the browser's time a little behind", () => {
  togglePlay();
  draw(999.5);
  expect(seen()).toBe(10);
});

it("ends on the last frame where it does not go round, and begins again from the first", () => {
  usePlayer.setState({ loop: false });
  togglePlay();
  draw(1500);
  expect([seen(), usePlayer.getState().playing]).toEqual([15, true]);
  draw(5000);
  expect([seen(), usePlayer.getState().playing, waiting.size]).toEqual([19, false, 0]);
  togglePlay();
  draw(5010);
  expect([seen(), usePlayer.getState().playing]).toEqual([10, true]);
});

it("has one step under way, however fast it is stopped and started", () => {
  togglePlay();
  draw(1100);
  togglePlay();
  togglePlay();
  expect(waiting.size).toBe(1);
  togglePlay();
  expect(waiting.size).toBe(0);
  togglePlay();
  stepBy(2);
  expect([seen(), usePlayer.getState().playing, waiting.size]).toEqual([13, false, 0]);
});

it("goes on in the new range and rate when somebody changes them while it plays", () => {
  togglePlay();
  draw(1500);
  setRange({ first: 0, last: 12, fps: 20 });
  expect([seen(), waiting.size]).toEqual([12, 1]);
  draw(1550);
  expect(seen()).toBe(0);
  draw(1600);
  expect(seen()).toBe(1);
});

it("plays a section, keys only, or every so many frames, at once when that is chosen", () => {
  togglePlay();
  playWhat({ show: 4, section: [12, 18] });
  expect(waiting.size).toBe(1);
  expect([0, 100, 350, 400, 600, 700].map((later) => { draw(1000 + later); return seen(); })).toEqual([12, 12, 12, 16, 16, 12]);
  setKeyedFrames(() => [11, 15]);
  goTo(11);
  now = 2000;
  playWhat({ show: "keys", section: null });
  expect([0, 300, 500, 800, 900].map((later) => { draw(2000 + later); return seen(); })).toEqual([11, 11, 15, 15, 10]);
});

it("says the rate that it reached in the last second", () => {
  togglePlay();
  for (let at = 1200; at <= 2000; at += 200) draw(at);
  expect(usePlayer.getState().rate).toBeCloseTo(5, 5);
});
