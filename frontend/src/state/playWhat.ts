/** What playing shows: it looks only, and changes nothing. */
export interface PlayWhat {
  /** Every frame; only frames with keys of the chosen parts; every so many frames, each held. */
  show: "every frame" | "keys" | 2 | 3 | 4;
  /** Only a section of the range. */
  section: [number, number] | null;
}

/** The frames that playing goes through: the section, kept within the range. */
export function playedRange({ section }: PlayWhat, first: number, last: number): [number, number] {
  if (!section) return [first, last];
  const [a, b] = [Math.min(...section), Math.max(...section)];
  const from = Math.min(Math.max(a, first), last);
  return [from, Math.max(Math.min(b, last), from)];
}

/**
 * The frame that is shown when the time is at `frame`: the last one up to it that is to be seen.
 *
 * @param keyed Frames with keys, ascending.
 */
export function heldFrame(show: PlayWhat["show"], frame: number, first: number, keyed: readonly number[]): number {
  if (show === "every frame") return frame;
  if (show === "keys") return Math.max(keyed.findLast((key) => key <= frame) ?? first, first);
  return first + Math.floor((frame - first) / show) * show;
}
