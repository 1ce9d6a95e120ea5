/** The six zones and taps in their fixed order, each tap with its one colour. */
export const taps = ["keyed", "driven", "bound", "solved", "late", "final"] as const;
export type Tap = (typeof taps)[number];

export const tapColour: Record<Tap, string> = {
  keyed: "#7B8791",
  driven: "#B27A12",
  bound: "#5B7F3A",
  solved: "#7A3E6D",
  late: "#0E6F73",
  final: "#D8432B",
};

/** The taps' colours where they are text: the same hues, dark enough to read. */
export const tapInk: Record<Tap, string> = {
  ...tapColour,
  keyed: "#5B666F",
  driven: "#865A0A",
  bound: "#4A6A2E",
  final: "#B5321D",
};

/** Dashes, so that a tap is told by more than its colour. */
export const tapDash: Record<Tap, string | undefined> = {
  keyed: "4 3",
  driven: undefined,
  bound: "8 3",
  solved: "2 2",
  late: "10 3 2 3",
  final: undefined,
};
