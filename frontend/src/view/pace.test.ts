import { expect, it } from "vitest";

import { paced, quiet, rest } from "./pace";

/** A pace whose clock is turned by hand, and what it did when: `full` and `light` are changes, `draw` a frame. */
function clocked(cost: number, shares = true) {
  let now = 0;
  const done: string[] = [];
  const rests: number[] = [];
  const waiting = new Map<number, { at: number; work: () => void }>();
  let count = 0;
  const pace = paced({
    draw: () => {
      done.push(`draw ${String(now)}`);
      pace.drawn(cost);
    },
    lighten: (light) => { done.push(light ? "light" : "full"); },
    shares: () => shares,
    rests: (wait) => { rests.push(wait); },
    now: () => now,
    later: (work, wait) => {
      const id = (count += 1);
      waiting.set(id, { at: now + wait, work });
      return () => { waiting.delete(id); };
    },
  });
  const until = (end: number) => {
    for (;;) {
      const [next] = [...waiting].filter(([, { at }]) => at <= end).sort(([, a], [, b]) => a.at - b.at);
      if (!next) break;
      waiting.delete(next[0]);
      now = Math.max(now, next[1].at);
      next[1].work();
    }
    now = end;
  };
  return { pace, until, done, rests };
}

it("draws at once where frames are quick, and never lightly", () => {
  const { pace, until, done } = clocked(2);
  for (let at = 0; at < 100; at += 10) {
    until(at);
    pace.want();
  }
  until(1000);
  expect(done).toHaveLength(10);
  expect(done.every((one) => one.startsWith("draw"))).toBe(true);
});

it("leaves slow frames a quarter of the time, draws them lightly, and in full when it is quiet", () => {
  const { pace, until, done } = clocked(20);
  for (let at = 0; at <= 300; at += 10) {
    until(at);
    pace.want();
  }
  until(2000);
  const frames = done.filter((one) => one.startsWith("draw")).map((one) => Number(one.slice(5)));
  expect(done.indexOf("light")).toBe(1);
  expect(done.at(-2)).toBe("full");
  expect(frames.at(-1)).toBe(300 + quiet.beside);
  const gaps = frames.slice(1, -1).map((frame, n) => frame - (frames[n] ?? 0));
  expect(Math.min(...gaps)).toBeGreaterThanOrEqual(rest * 20);
  expect(frames.length).toBeGreaterThan(5);
});

it("takes all the time where it is alone, as while a scene plays", () => {
  const { pace, until, done } = clocked(20, false);
  for (let at = 0; at < 400; at += 40) {
    until(at);
    pace.want();
  }
  until(2000);
  expect(done).toEqual(Array.from({ length: 10 }, (_, n) => `draw ${String(40 * n)}`));
});

it("is drawn in full sooner where no hand drags elsewhere", () => {
  const { pace, until, done } = clocked(50, false);
  for (const at of [0, 60, 120]) {
    until(at);
    pace.want();
  }
  until(2000);
  expect(done.slice(-2)).toEqual(["full", `draw ${String(120 + quiet.alone)}`]);
});

it("follows the hand that turns it", () => {
  const { pace, until, done } = clocked(40);
  pace.want();
  until(5);
  pace.hold(true);
  for (const at of [10, 20, 30]) {
    until(at);
    pace.want();
  }
  expect(done.filter((one) => one.startsWith("draw"))).toEqual(["draw 0", "draw 10", "draw 20", "draw 30"]);
  pace.hold(false);
  pace.want();
  pace.stop();
  until(9000);
  expect(done).not.toContain("full");
});

it("says how long it needs nothing: not at all where frames are quick, or under the hand", () => {
  const slow = clocked(20);
  slow.pace.want();
  slow.until(100);
  slow.pace.hold(true);
  slow.pace.want();
  slow.pace.stop();
  expect(slow.rests).toEqual([(rest - 1) * 20, 0, 0, 0]);
  const quick = clocked(5);
  quick.pace.want();
  quick.until(100);
  expect(quick.rests).toEqual([0]);
});
