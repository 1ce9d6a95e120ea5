import type { ThemeConfig } from "antd";

/** Ink on paper: the colours of the whole interface. */
export const ink = {
  ground: "#F6F3EC",
  panel: "#FCFAF5",
  ink: "#1E2B33",
  quiet: "#5F6B72",
  line: "#DDD6C8",
  /** Now, and nothing else: the playhead, the present value. */
  now: "#D8432B",
  /** The same, dark enough for text. */
  nowText: "#B5321D",
  /** What is wrong: errors, loops, findings, jumps. */
  trouble: "#93203F",
  /** What is chosen: behind a row, and as a line. */
  chosen: "#E1EEEE",
  picked: "#2C6E91",
  /** Keys, in the slate of the tap keyed. */
  key: "#7B8791",
  axis: { x: "#B23A2B", y: "#4C7A2E", z: "#2B5EA8" },
} as const;

const sans = "'IBM Plex Sans', sans-serif";
export const mono = "'IBM Plex Mono', monospace";

export const theme: ThemeConfig = {
  // The styles come with antd.css: none are made in the page.
  zeroRuntime: true,
  token: {
    colorPrimary: ink.ink,
    colorInfo: ink.ink,
    colorError: "#93203F",
    colorWarning: "#9A6400",
    colorSuccess: "#4C6B33",
    colorLink: ink.ink,
    colorText: ink.ink,
    colorTextSecondary: ink.quiet,
    colorTextDescription: ink.quiet,
    colorTextPlaceholder: "#767F83",
    colorBgBase: ink.panel,
    colorBgLayout: ink.ground,
    colorBgContainer: "#FFFFFF",
    colorBgElevated: "#FFFFFF",
    colorBorder: ink.line,
    colorBorderSecondary: ink.line,
    controlItemBgActive: ink.chosen,
    controlItemBgActiveHover: "#D0E3E3",
    controlItemBgHover: "#EFEBE0",
    borderRadius: 6,
    fontFamily: sans,
    fontFamilyCode: mono,
    fontSize: 13,
    controlHeight: 28,
    motion: false,
  },
  components: {
    Tree: { colorBgContainer: ink.panel, titleHeight: 25, indentSize: 14, nodeSelectedBg: ink.chosen },
    Splitter: { splitBarSize: 1, splitTriggerSize: 7 },
    Segmented: { itemSelectedBg: ink.ink, itemSelectedColor: "#FFFFFF", trackBg: "#EFEBE0" },
    Select: { optionSelectedBg: ink.chosen, optionSelectedColor: ink.ink, multipleItemBg: "#EFEBE0", multipleItemHeightSM: 20 },
    Table: { headerBg: ink.panel, cellPaddingBlock: 10 },
  },
};
