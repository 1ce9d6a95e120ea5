import { create } from "zustand";

/** The part whose name is being typed in the tree. */
export const useRenaming = create<{ part: string | null }>(() => ({ part: null }));

export function beginRename(part: string) {
  useRenaming.setState({ part });
}

export function endRename() {
  useRenaming.setState({ part: null });
}
