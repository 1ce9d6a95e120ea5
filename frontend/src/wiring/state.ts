import { create } from "zustand";

import type { WireView } from "../state/order";
import { perScene } from "../state/perScene";
import type { Reach } from "./filter";

export type Tab = "order" | "ledger" | "what if";

interface Wiring {
  /** Null: everything while it is little, else what feeds the selection. */
  reach: Reach | null;
  steps: number | null;
  folded: string[];
  wire: WireView | null;
  tab: Tab;
}

const nothing: Wiring = { reach: null, steps: null, folded: [], wire: null, tab: "order" };

/** What the Wiring view shows. */
export const useWiring = create<Wiring>(() => nothing);

perScene(() => { useWiring.setState(nothing); });

export function toggleFold(part: string) {
  const { folded } = useWiring.getState();
  useWiring.setState({ folded: folded.includes(part) ? folded.filter((one) => one !== part) : [...folded, part] });
}
