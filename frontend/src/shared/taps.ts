/** The six zones and taps in their fixed order, each tap with its one colour. */
export const taps = ["keyed", "driven", "bound", "solved", "late", "final"] as const;
export type Tap = (typeof taps)[number];

/** Dashes, so that a tap is told by more than its colour. */
export const tapDash: Record<Tap, string | undefined> = {
  keyed: "4 3",
  driven: undefined,
  bound: "8 3",
  solved: "2 2",
  late: "10 3 2 3",
  final: undefined,
};
