import { create } from "zustand";

import { perScene } from "./perScene";

interface ShownLanes {
  /** Lanes of all that is keyed, not of the chosen parts only. */
  whole: boolean;
  /** What the names of keyed channels are searched for. */
  search: string;
}

const usual: ShownLanes = { whole: false, search: "" };

/** Whose keys the lanes show, kept while other parts are chosen and other views looked at. */
export const useShownLanes = create<ShownLanes>(() => usual);

perScene(() => { useShownLanes.setState(usual); });
