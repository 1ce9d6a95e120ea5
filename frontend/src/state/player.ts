import { create } from "zustand";

import { perScene } from "./perScene";
import type { PlayWhat } from "./playWhat";
import { heldFrame, playedRange } from "./playWhat";

interface Player {
  frame: number;
  playing: boolean;
  /** Frames that were really shown in the last second of playing. */
  rate: number;
  /** Whether playing goes round, or ends at the last frame. */
  loop: boolean;
  what: PlayWhat;
}

/** The playhead. It plays from arrays that the browser holds and asks nobody. */
export const usePlayer = create<Player>(() => ({ frame: 0, playing: false, rate: 0, loop: true, what: { show: "every frame", section: null } }));

perScene(() => { usePlayer.setState({ frame: 0, what: { show: "every frame", section: null } }); });

interface Range {
  first: number;
  last: number;
  fps: number;
}

let range: Range = { first: 0, last: 0, fps: 24 };
let keyed: () => number[] = () => [];
/** The next step of what plays, to be taken back when it stops: one alone is under way. */
let step = 0;

/** Says where playing only keys finds these, ascending. */
export function setKeyedFrames(found: () => number[]) {
  keyed = found;
}

export function setRange(next: Range) {
  range = next;
  goTo(usePlayer.getState().frame);
  playAgain();
}

/** Moves the playhead to a whole frame of the range. */
export function goTo(frame: number) {
  const whole = Math.round(Math.min(Math.max(frame, range.first), range.last));
  if (whole !== usePlayer.getState().frame) usePlayer.setState({ frame: whole });
}

export function stepBy(frames: number) {
  stop();
  goTo(usePlayer.getState().frame + frames);
}

export function togglePlay() {
  if (usePlayer.getState().playing) stop();
  else play();
}

export function stop() {
  cancelAnimationFrame(step);
  usePlayer.setState({ playing: false });
}

function play() {
  const { frame: now, loop, what } = usePlayer.getState();
  const [first, last] = playedRange(what, range.first, range.last);
  const count = last - first + 1;
  const keys = what.show === "keys" ? keyed() : [];
  const outside = now < first || now > last || (!loop && now >= last);
  const from = outside ? 0 : now - first;
  const start = performance.now();
  let shown = 0;
  let since = start;
  usePlayer.setState({ playing: true, rate: 0 });
  const tick = (now: number) => {
    const { frame, loop } = usePlayer.getState();
    // The time of a frame of the browser may lie before the moment at which playing was asked for.
    const passed = Math.max(Math.floor(((now - start) / 1000) * range.fps), 0);
    if (!loop && from + passed >= count - 1) {
      usePlayer.setState({ frame: last, playing: false });
      return;
    }
    const at = first + ((from + passed) % count);
    const next = heldFrame(what.show, at, first, keys);
    if (next !== frame) {
      shown += 1;
      usePlayer.setState({ frame: next });
    }
    if (now - since >= 1000) {
      usePlayer.setState({ rate: (shown * 1000) / (now - since) });
      shown = 0;
      since = now;
    }
    step = requestAnimationFrame(tick);
  };
  step = requestAnimationFrame(tick);
}

/** What playing shows from now on; what plays begins again with it. */
export function playWhat(what: PlayWhat) {
  usePlayer.setState({ what });
  playAgain();
}

function playAgain() {
  if (!usePlayer.getState().playing) return;
  stop();
  play();
}
