import type { ScaleLinear } from "d3-scale";
import { scaleLinear } from "d3-scale";

import type { Block } from "../state/samples";
import { tick } from "./format";
import { degreeSign, looked, lookOf, meant, saidUnit } from "./units";

export const margin = { left: 124, right: 16, top: 34, bottom: 22 };

export interface Scales {
  x: ScaleLinear<number, number>;
  y: ScaleLinear<number, number>;
}

/** What part of the plane is shown: frames, and values. */
export interface Window {
  x: [number, number];
  y: [number, number];
}

export function scalesOf(shown: Window, width: number, height: number): Scales {
  return {
    x: scaleLinear(shown.x, [margin.left, Math.max(width - margin.right, margin.left + 1)]),
    y: scaleLinear(shown.y, [Math.max(height - margin.bottom, margin.top + 1), margin.top]),
  };
}

/** Whether a frame is in the part of the plane that is shown, and not beside it where names stand. */
export function isShown(frame: number, { x }: Scales): boolean {
  const [first = 0, last = 0] = x.domain();
  return first <= frame && frame <= last;
}

/** Where an axis of values has its lines, about so many, and what stands beside them: even numbers of
 * the unit in which the scene is looked at. */
export function ticksOf(y: ScaleLinear<number, number>, unit: string, count: number): { value: number; text: string }[] {
  const look = lookOf(unit);
  const said = saidUnit(unit);
  const word = said ? ` ${said}` : degreeSign(unit);
  const seen = y.copy().domain(y.domain().map((value) => looked(value, look)));
  return seen.ticks(count).map((value) => ({ value: meant(value, look), text: `${tick(value)}${word}` }));
}

/** The lowest and the highest of numbers, however many: a call takes no hundred thousand of them. */
export function rangeOf(numbers: Iterable<number>): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const value of numbers) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return [low, high];
}

/** The window that holds these curves and key values, with room above and below. */
export function windowOf(
  first: number,
  last: number,
  blocks: (Block | undefined)[],
  values: number[],
): Window {
  let low = Infinity;
  let high = -Infinity;
  const take = (value: number) => {
    if (value < low) low = value;
    if (value > high) high = value;
  };
  for (const block of blocks) block?.data.forEach(take);
  values.forEach(take);
  if (!Number.isFinite(low)) [low, high] = [-1, 1];
  const room = high - low > 1e-9 ? (high - low) * 0.08 : Math.max(Math.abs(high) * 0.2, 0.5);
  return { x: [first - 1, last + 1], y: [low - room, high + room] };
}

/** The window around some keys. */
export function aroundKeys(frames: number[], values: number[]): Window {
  const span = (numbers: number[], least: number): [number, number] => {
    const [low, high] = rangeOf(numbers);
    const room = Math.max((high - low) * 0.15, least);
    return [low - room, high + room];
  };
  return { x: span(frames, 1), y: span(values, 0.05) };
}

/** An SVG path through a block's values, one point for each frame. */
export function pathOf(block: Block, first: number, last: number, { x, y }: Scales): string {
  if (block.frames === 1) {
    const at = y(block.data[0] ?? 0).toFixed(2);
    return `M${x(first).toFixed(2)},${at}H${x(last).toFixed(2)}`;
  }
  const points: string[] = [];
  block.data.forEach((value, n) => {
    points.push(`${x(first + n).toFixed(2)},${y(value).toFixed(2)}`);
  });
  return `M${points.join("L")}`;
}
