import { create } from "zustand";

import type { Tap } from "../../shared/taps";

/** Which taps the curve panel draws. */
export const useShownTaps = create<{ on: Tap[] }>(() => ({ on: ["keyed", "driven", "bound", "late", "final"] }));

export function toggleTap(tap: Tap) {
  useShownTaps.setState(({ on }) => ({
    on: on.includes(tap) ? on.filter((other) => other !== tap) : [...on, tap],
  }));
}
