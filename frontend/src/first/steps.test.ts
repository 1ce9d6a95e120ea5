import { expect, test } from "vitest";

import type { PartView } from "../api/client";
import type { Seen } from "./steps";
import { steps } from "./steps";

function part(id: string, parent: string | null, keys: number[][], formula?: string): PartView {
  const curve = keys.length ? { keys: keys.map(([frame, value]) => ({ frame, value })) } : null;
  const made = formula ? [{ id: "s", settings: { channel: "rotation.z", text: formula } }] : [];
  return { id, name: id === "p1" ? "cart" : "wheel", parent, channels: [{ id: "translation.x", curve }], steps: made } as unknown as PartView;
}

const nothing: Seen = { parts: [], frame: 0, playing: false, chosen: null, undone: false };

test("each step is done by its own deed, and none before", () => {
  const cart = part("p1", null, [[0, 0]]);
  const going = part("p1", null, [[0, 0], [60, 3]]);
  const wheel = part("p2", "p1", []);
  const turned = part("p2", "p1", [], "-degrees(travelled({cart}) / 0.5)");
  const story: Partial<Seen>[] = [
    { parts: [part("p1", null, [])] },
    { chosen: "p1/translation.x" },
    { parts: [cart] },
    { frame: 60 },
    { parts: [going] },
    { parts: [going, wheel] },
    { chosen: "p2/rotation.z" },
    { parts: [going, turned] },
    { playing: true },
    { playing: false, undone: true },
  ];
  expect(story).toHaveLength(steps.length);
  let seen = nothing;
  story.forEach((deed, n) => {
    expect(steps[n]?.done(seen), `step ${String(n)} before`).toBe(false);
    seen = { ...seen, ...deed };
    expect(steps[n]?.done(seen), `step ${String(n)} after`).toBe(true);
  });
});

test("a part that is not named yet is not there yet", () => {
  const unnamed = { ...part("p1", null, []), name: "part 1" };
  expect(steps[0]?.done({ ...nothing, parts: [unnamed] })).toBe(false);
});

test("two keys of one value are no way yet", () => {
  const still = { ...nothing, parts: [part("p1", null, [[0, 2], [60, 2]])], frame: 60 };
  expect(steps[4]?.done(still)).toBe(false);
});
