import type { ReportView } from "../api/client";

/** What the right panel shows: who writes the chosen part, a report, or how far a bake is from its source. */
export type PanelShown =
  | { what: "authority" }
  | { what: "report"; title: string; report: ReportView }
  | { what: "bake"; bake: string };

export type Show = (shown: PanelShown) => void;
