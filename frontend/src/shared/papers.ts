/** The two papers that the interface is written on: the same meanings, in ink that can be read on each. */
export interface Ink {
  ground: string;
  panel: string;
  /** What can be typed in, and cards. */
  field: string;
  ink: string;
  /** Text on what is filled with ink. */
  onInk: string;
  quiet: string;
  line: string;
  /** Under the pointer, and behind what is aside. */
  hover: string;
  /** Lines behind curves, and rails. */
  grid: string;
  rail: string;
  /** Now, and nothing else: the playhead, the present value. */
  now: string;
  /** The same, as text. */
  nowText: string;
  /** What is wrong: errors, loops, findings, jumps; and a frame around it. */
  trouble: string;
  troubleLine: string;
  /** What is doubtful, and what is well, as text. */
  doubtful: string;
  well: string;
  /** What is chosen: behind a row, and as a line. */
  chosen: string;
  picked: string;
  /** Keys, in the slate of the tap keyed; and their edge. */
  key: string;
  keyEdge: string;
  /** Behind what is driven: quietly, and where it is meant. */
  driven: string;
  drivenNow: string;
  /** What stands on the ground, and the slopes beside it: dark and light stripes. */
  standing: [string, string];
  slope: string;
  /** Lanes: FK; the stripes of IK; the dots between both. */
  fk: string;
  ik: [string, string];
  between: [string, string];
  /** Spaces and leads, one after the other. */
  strips: string[];
  /** Who writes: a clip, a blend, anything else. */
  writers: [string, string, string];
  axis: { x: string; y: string; z: string };
  /** Space: behind everything, the lines of the ground, every tenth of them; a ghost of what comes. */
  sky: string;
  floor: string;
  floorLine: string;
  ahead: string;
  /** Where two orders of a surface are the same. */
  even: string;
  /** Taps as lines, and as text. */
  taps: Taps;
  tapText: Taps;
}

interface Taps { keyed: string; driven: string; bound: string; solved: string; late: string; final: string }

const dayTaps = { keyed: "#7B8791", driven: "#B27A12", bound: "#5B7F3A", solved: "#7A3E6D", late: "#0E6F73", final: "#D8432B" };

export const day: Ink = {
  ground: "#F6F3EC",
  panel: "#FCFAF5",
  field: "#FFFFFF",
  ink: "#1E2B33",
  onInk: "#FFFFFF",
  quiet: "#5F6B72",
  line: "#DDD6C8",
  hover: "#EFEBE0",
  grid: "#E9E4D9",
  rail: "#C9C1B1",
  now: "#D8432B",
  nowText: "#B5321D",
  trouble: "#93203F",
  troubleLine: "#E39A8B",
  doubtful: "#8A5A00",
  well: "#3F6B2E",
  chosen: "#E1EEEE",
  picked: "#2C6E91",
  key: "#7B8791",
  keyEdge: "#5B666F",
  driven: "#FBF8F0",
  drivenNow: "#F6EBD3",
  standing: ["#E6DFCF", "#D8CFBA"],
  slope: "#E9E3D6",
  fk: "#EFEBE0",
  ik: ["#E9DCE6", "#DCC9D8"],
  between: ["#F3ECF1", "#B79AB1"],
  strips: ["#E4DFD2", "#D3E2C6", "#EFDDB5", "#D2E3EA", "#E9D3E0", "#D9D5EC", "#E9D2C4", "#CFE5DF"],
  writers: ["#E1E5E8", "#F2DFB8", "#F0CFC9"],
  axis: { x: "#B23A2B", y: "#4C7A2E", z: "#2B5EA8" },
  sky: "#F1F2EC",
  floor: "#DFE2D9",
  floorLine: "#C9CFC6",
  ahead: "#0E6F73",
  even: "#F3EBDD",
  taps: dayTaps,
  tapText: { ...dayTaps, keyed: "#5B666F", driven: "#865A0A", bound: "#4A6A2E", final: "#B5321D" },
};

const eveningTaps = { keyed: "#9FACB6", driven: "#DDAA48", bound: "#9BC46E", solved: "#D49BCB", late: "#57BFC1", final: "#FF7358" };

export const evening: Ink = {
  ground: "#191C1E",
  panel: "#1F2326",
  field: "#282D31",
  ink: "#ECE6D9",
  onInk: "#191C1E",
  quiet: "#A9B0B1",
  line: "#3D4347",
  hover: "#2F353A",
  grid: "#353B40",
  rail: "#5A6166",
  now: "#FF6A4D",
  nowText: "#FF8D75",
  trouble: "#F493AC",
  troubleLine: "#8E4453",
  doubtful: "#E2B255",
  well: "#9BC46E",
  chosen: "#24404A",
  picked: "#7CC0E2",
  key: "#9FACB6",
  keyEdge: "#C3CDD4",
  driven: "#2A2824",
  drivenNow: "#3F3621",
  standing: ["#423D31", "#57503F"],
  slope: "#38342B",
  fk: "#33383C",
  ik: ["#40323D", "#55404F"],
  between: ["#2D282C", "#8A6E84"],
  strips: ["#3F3C35", "#35452B", "#4B3F22", "#2A4350", "#4A3242", "#3A3658", "#4D3729", "#28463F"],
  writers: ["#38424A", "#4B3F22", "#55322C"],
  axis: { x: "#F28A78", y: "#9ACB72", z: "#86B2F5" },
  sky: "#24292B",
  floor: "#31373A",
  floorLine: "#434A4D",
  ahead: "#57BFC1",
  even: "#4A4538",
  taps: eveningTaps,
  tapText: { ...eveningTaps, final: "#FF8D75" },
};

export const choices = ["as the system", "day", "evening"] as const;
export type PaperChoice = (typeof choices)[number];

const kept = "bindu.paper";

/** What was chosen in this browser. */
export function paperChoice(): PaperChoice {
  const said = localStorage.getItem(kept);
  return choices.find((one) => one === said) ?? "as the system";
}

/** Chooses a paper; the page is drawn anew on it. */
export function choosePaper(choice: PaperChoice) {
  localStorage.setItem(kept, choice);
  window.location.reload();
}

/** Whether the page is written on evening paper: decided once, when it is loaded. */
export function isEvening(): boolean {
  const choice = paperChoice();
  return choice === "evening" || (choice === "as the system" && window.matchMedia("(prefers-color-scheme: dark)").matches);
}
