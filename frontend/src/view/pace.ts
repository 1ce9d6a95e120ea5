/** How often the view may draw. Where software draws, a frame of the view holds up all else that is painted,
 * so that it leaves the curves most of the time, and draws lightly while numbers stream in. */
export interface Pace {
  /** Something is to be drawn: at once where a hand is on the view, else when its turn has come. */
  want: () => void;
  /** A frame was drawn and painted, and took so long, milliseconds. */
  drawn: (took: number) => void;
  /** A hand turns the view, or has let go. */
  hold: (held: boolean) => void;
  /** Gives up what is still to come. */
  stop: () => void;
}

interface Doing {
  draw: () => void;
  /** Lower resolution and plain lines, or all of it again. */
  lighten: (light: boolean) => void;
  /** Whether something is dragged elsewhere, whose curves and numbers must not wait for the view. */
  shares: () => boolean;
  /** Nothing need come for the view in the next milliseconds. */
  rests: (wait: number) => void;
  now: () => number;
  /** Does something so many milliseconds later; returns how to give it up. */
  later: (work: () => void, wait: number) => () => void;
}

/** From how long a frame takes on, milliseconds, it is drawn lightly while others follow: alone, and beside others. */
const slow = { alone: 33, beside: 12 };
/** How many times as long as a frame took the next one waits beside others: they have three quarters of the time. */
export const rest = 3;
/** After how long without anything new the view draws in full again, milliseconds: alone, and while a hand that
 * drags elsewhere may only pause. */
export const quiet = { alone: 150, beside: 400 };
/** How close, milliseconds, what is to be drawn must follow to be a stream. */
const stream = 300;

export function paced({ draw, lighten, shares, rests, now, later }: Doing): Pace {
  let cost = 0;
  let fullCost = 0;
  let last = -Infinity;
  let wanted = -Infinity;
  let held = false;
  let light = false;
  let turn: (() => void) | null = null;
  let calm: (() => void) | null = null;
  const go = () => {
    turn = null;
    draw();
  };
  const be = (next: boolean) => {
    if (light === next) return;
    light = next;
    lighten(next);
  };
  const settle = () => {
    calm = null;
    be(false);
    draw();
  };
  return {
    want: () => {
      const at = now();
      const streams = at - wanted < stream;
      wanted = at;
      if (streams && fullCost > (shares() ? slow.beside : slow.alone)) {
        be(true);
        calm?.();
        calm = later(settle, shares() ? quiet.beside : quiet.alone);
      }
      if (held) {
        turn?.();
        go();
        return;
      }
      turn ??= later(go, shares() ? Math.max(0, last + rest * cost - at) : 0);
    },
    drawn: (took) => {
      cost = took;
      if (!light) fullCost = took;
      last = now();
      // A little before its turn, since what is asked for then takes its time to come.
      rests(held || cost <= slow.beside ? 0 : (rest - 1) * cost);
    },
    hold: (next) => {
      held = next;
      if (held) rests(0);
    },
    stop: () => {
      turn?.();
      calm?.();
      turn = calm = null;
      rests(0);
    },
  };
}
