import { create } from "zustand";

/** The panels of the Bench that can be folded away around the view. */
export type Foldable = "left" | "time" | "ledger";

interface Panels {
  folded: Foldable[];
}

const all: Foldable[] = ["left", "time", "ledger"];

/** Which panels are folded. */
export const usePanels = create<Panels>(() => ({ folded: [] }));

/** Folds a panel, or brings it back. */
export function foldPanel(panel: Foldable) {
  usePanels.setState(({ folded }) => ({ folded: folded.includes(panel) ? folded.filter((one) => one !== panel) : [...folded, panel] }));
}

/** Brings a panel back, if it is folded. */
export function showPanel(panel: Foldable) {
  usePanels.setState(({ folded }) => ({ folded: folded.filter((one) => one !== panel) }));
}

/** Gives the view the whole window, or brings all panels back. */
export function viewAlone() {
  usePanels.setState(({ folded }) => ({ folded: folded.length === all.length ? [] : all }));
}
