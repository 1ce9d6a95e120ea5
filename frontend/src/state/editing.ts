import { create } from "zustand";

import { perScene } from "./perScene";

/** The step whose text is to be typed next: a formula that was just made opens its editor. */
export const useEditing = create<{ step: string | null }>(() => ({ step: null }));

perScene(() => { beginEditing(null); });

export function beginEditing(step: string | null) {
  useEditing.setState({ step });
}
