import type { ThemeConfig } from "antd";
import { theme as algorithms } from "antd";

import { day, evening, isEvening } from "./papers";

const dark = isEvening();

/** The colours of the whole interface, on the paper that was chosen. */
export const ink = dark ? evening : day;

const sans = "'IBM Plex Sans', sans-serif";
export const mono = "'IBM Plex Mono', monospace";

/** Tells the style sheet of the colours. */
export function putInk(root: HTMLElement) {
  root.dataset["paper"] = dark ? "evening" : "day";
  root.style.colorScheme = dark ? "dark" : "light";
  for (const name of ["ground", "field", "ink", "quiet", "line", "hover"] as const) {
    root.style.setProperty(`--${name}`, ink[name]);
  }
}

export const theme: ThemeConfig = {
  // The styles come with antd.css: none are made in the page.
  zeroRuntime: true,
  algorithm: dark ? algorithms.darkAlgorithm : algorithms.defaultAlgorithm,
  token: {
    colorPrimary: ink.ink,
    colorInfo: ink.ink,
    colorError: ink.trouble,
    colorWarning: dark ? ink.doubtful : "#9A6400",
    colorSuccess: dark ? ink.well : "#4C6B33",
    colorLink: ink.ink,
    colorText: ink.ink,
    colorTextLightSolid: ink.onInk,
    colorBgSpotlight: ink.ink,
    colorTextSecondary: ink.quiet,
    colorTextDescription: ink.quiet,
    colorTextPlaceholder: ink.quiet,
    colorBgBase: ink.panel,
    colorBgLayout: ink.ground,
    colorBgContainer: ink.field,
    colorBgElevated: ink.field,
    colorBorder: ink.line,
    colorBorderDisabled: ink.line,
    colorBorderSecondary: ink.line,
    controlItemBgActive: ink.chosen,
    controlItemBgActiveHover: dark ? "#2C4E5A" : "#D0E3E3",
    controlItemBgHover: ink.hover,
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
    Segmented: { itemSelectedBg: ink.ink, itemSelectedColor: ink.onInk, trackBg: ink.hover },
    Select: { optionSelectedBg: ink.chosen, optionSelectedColor: ink.ink, multipleItemBg: ink.hover, multipleItemHeightSM: 20 },
    Table: { headerBg: ink.panel, headerSortActiveBg: ink.panel, headerSortHoverBg: ink.hover, bodySortBg: ink.field, cellPaddingBlock: 10, cellPaddingInline: 10 },
  },
};
