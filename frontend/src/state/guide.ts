import { create } from "zustand";

/** Which chapter of the guide is open, by its title; null: it is closed. */
export const useGuide = create<{ chapter: string | null }>(() => ({ chapter: null }));

export function openGuide(chapter = "The Bench") {
  useGuide.setState({ chapter });
}

export function closeGuide() {
  useGuide.setState({ chapter: null });
}
