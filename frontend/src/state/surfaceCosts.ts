import { create } from "zustand";

interface Costs {
  costs: Record<string, Record<string, number>>;
  problems: Record<string, string | null>;
  set: (surface: string, costs: Record<string, number>, problem: string | null) => void;
}

/** What each step of the surfaces took when it was drawn last, milliseconds; why one is not drawn. */
export const useSurfaceCosts = create<Costs>((set, get) => ({
  costs: {},
  problems: {},
  set: (surface, costs, problem) => {
    const now = get();
    if (now.costs[surface] === costs && now.problems[surface] === problem) return;
    set({ costs: { ...now.costs, [surface]: costs }, problems: { ...now.problems, [surface]: problem } });
  },
}));
