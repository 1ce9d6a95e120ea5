import { create } from "zustand";

import { perScene } from "./perScene";

/** The frames that lanes and curves show; null: the scene's whole range. */
export const useTimeWindow = create<{ frames: [number, number] | null }>(() => ({ frames: null }));

perScene(() => { showFrames(null); });

export function showFrames(frames: [number, number] | null) {
  useTimeWindow.setState({ frames });
}
