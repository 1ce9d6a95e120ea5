import { create } from "zustand";

interface Player {
  frame: number;
  playing: boolean;
  /** Frames that were really shown in the last second of playing. */
  rate: number;
  /** Whether playing goes round, or ends at the last frame. */
  loop: boolean;
}

/** The playhead. It plays from arrays that the browser holds and asks nobody. */
export const usePlayer = create<Player>(() => ({ frame: 0, playing: false, rate: 0, loop: true }));

interface Range {
  first: number;
  last: number;
  fps: number;
}

let range: Range = { first: 0, last: 0, fps: 24 };

export function setRange(next: Range) {
  range = next;
  goTo(usePlayer.getState().frame);
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
  usePlayer.setState({ playing: false });
}

function play() {
  const count = range.last - range.first + 1;
  const { frame: now, loop } = usePlayer.getState();
  const from = !loop && now >= range.last ? 0 : now - range.first;
  const start = performance.now();
  let shown = 0;
  let since = start;
  usePlayer.setState({ playing: true, rate: 0 });
  const tick = (now: number) => {
    const { playing, frame, loop } = usePlayer.getState();
    if (!playing) return;
    const passed = Math.floor(((now - start) / 1000) * range.fps);
    if (!loop && from + passed >= count - 1) {
      usePlayer.setState({ frame: range.last, playing: false });
      return;
    }
    const next = range.first + ((((from + passed) % count) + count) % count);
    if (next !== frame) {
      shown += 1;
      usePlayer.setState({ frame: next });
    }
    if (now - since >= 1000) {
      usePlayer.setState({ rate: (shown * 1000) / (now - since) });
      shown = 0;
      since = now;
    }
    requestAnimationFrame(tick);
  };
  requestAnimationFrame(tick);
}
