import { expect, test } from "vitest";

import type { Ink } from "./papers";
import { day, evening } from "./papers";

/** Relative luminance, by WCAG 2.2. */
function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const share = parseInt(colour.slice(at, at + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * (r ?? 0) + 0.7152 * (g ?? 0) + 0.0722 * (b ?? 0);
}

function contrast(one: string, other: string): number {
  const [low = 0, high = 0] = [luminance(one), luminance(other)].sort((a, b) => a - b);
  return (high + 0.05) / (low + 0.05);
}

const papers: [string, Ink][] = [["day", day], ["evening", evening]];

test.each(papers)("text can be read on %s paper, whatever it means", (_, ink) => {
  const behind = [ink.ground, ink.panel, ink.field];
  const texts = { ink: ink.ink, quiet: ink.quiet, nowText: ink.nowText, trouble: ink.trouble, doubtful: ink.doubtful, well: ink.well, ...ink.tapText, ...ink.axis };
  const poor = Object.entries(texts).flatMap(([name, colour]) => behind.map((paper) => [name, paper, contrast(colour, paper)] as const)).filter(([, , by]) => by < 4.5);
  expect(poor).toEqual([]);
  const onInk = [...ink.strips, ink.chosen, ink.drivenNow, ink.driven, ink.hover, ink.fk, ...ink.ik, ...ink.standing, ink.slope].filter((under) => contrast(ink.ink, under) < 4.5);
  expect(onInk).toEqual([]);
  expect(contrast(ink.onInk, ink.ink)).toBeGreaterThan(4.5);
});

test.each(papers)("lines and marks stand out from %s paper", (_, ink) => {
  const marks = { now: ink.now, key: ink.key, picked: ink.picked, ...ink.taps };
  const poor = Object.entries(marks).filter(([, colour]) => contrast(colour, ink.ground) < 3);
  expect(poor).toEqual([]);
});
