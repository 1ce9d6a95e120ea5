import type { PartView } from "../../api/client";

/** At which share of a cycle each foot lands: left, right, left, right … from the front. */
export const patterns: Record<string, number[]> = {
  "two legs": [0, 0.5],
  "four, walk": [0.25, 0.75, 0, 0.5],
  "four, pairs across": [0, 0.5, 0.5, 0],
  "six, three by three": [0, 0.5, 0.5, 0, 0, 0.5],
  "six, a wave from behind": [0.333, 0.833, 0.167, 0.667, 0, 0.5],
};

/** The first pattern for so many feet; else all feet one after the other. */
export function phasesFor(count: number): number[] {
  const fits = Object.values(patterns).find((phases) => phases.length === count);
  return fits ?? Array.from({ length: count }, (_, n) => Math.round((n * 1000) / count) / 1000);
}

/** The chosen parts that walk: all but the root, and what walks along with it, by role. */
export function feetOf(chosen: string[], root: string): string[] {
  return chosen.filter((id) => id !== root);
}

/** The part at the top of the tree that most likely is the root: the topmost part above others of the
 * chosen ones, else the first chosen one. */
export function rootOf(parts: Record<string, PartView>, chosen: string[]): string {
  const last = chosen.at(-1) ?? "";
  return chosen.find((id) => Object.values(parts).some(({ parent }) => parent === id) && !parts[id]?.parent) ?? last;
}
