/** A key near the playhead: on which frame, and the share of the channels asked for that have it. */
export interface NearKey {
  frame: number;
  share: number;
}

/** How many frames to both sides of the playhead a ruler shows. */
export const reach = 12;

const bend = 0.35;

/** Where a frame stands on a ruler, from −1 over 0 (the playhead) to 1: the farther, the closer. */
export function placeOn(frame: number, now: number): number {
  const far = frame - now;
  return (Math.sign(far) * Math.log1p(Math.abs(far) * bend)) / Math.log1p(reach * bend);
}

/** The keys of some curves that are near a frame, in their order. */
export function nearKeys(curves: { keys: { frame: number }[] }[], now: number): NearKey[] {
  const found = new Map<number, number>();
  for (const { keys } of curves) {
    for (const { frame } of keys) {
      if (Math.abs(frame - now) <= reach) found.set(frame, (found.get(frame) ?? 0) + 1);
    }
  }
  return [...found].map(([frame, count]) => ({ frame, share: count / curves.length })).sort((a, b) => a.frame - b.frame);
}

/** In words: which keys are near. */
export function nearWords(near: NearKey[], now: number): string {
  const frames = near.map(({ frame }) => String(Number(frame.toFixed(3))));
  const here = near.some(({ frame }) => frame === now);
  const listed = frames.length ? `keys at ${frames.join(", ")}` : `no keys within ${String(reach)} frames`;
  return `${here ? "key on this frame" : "no key on this frame"}; ${listed}`;
}
