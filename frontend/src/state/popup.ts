import { create } from "zustand";

/** Which popup is open: one at a time. */
export const usePopup = create<{ open: string | null }>(() => ({ open: null }));

export function openPopup(id: string) {
  usePopup.setState({ open: id });
}

/** Closes a popup if it is still the one that is open. */
export function closePopup(id: string) {
  if (usePopup.getState().open === id) usePopup.setState({ open: null });
}
