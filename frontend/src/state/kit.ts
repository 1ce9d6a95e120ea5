import { create } from "zustand";

import { showPanel } from "./panels";
import { perScene } from "./perScene";

export const kitNames = ["sets", "layers", "limbs", "lead groups", "gaits", "plants", "surfaces", "slip probes", "rules"] as const;
/** The kinds of things of a rig, by the word that heads them. */
export type KitName = (typeof kitNames)[number];

interface Kit {
  /** What the left panel shows. */
  tab: "parts" | "kit";
  /** The thing whose form is open; without an identity the form of a new one. */
  open: { kind: KitName; id: string | null } | null;
  /** What the list is searched for. */
  find: string;
  /** The kinds that are folded. */
  folded: KitName[];
}

const nothing: Kit = { tab: "parts", open: null, find: "", folded: [] };

/** What of the kit is looked at. It belongs to the browser, not to the scene. */
export const useKit = create<Kit>(() => nothing);

perScene(() => { useKit.setState({ open: null, find: "" }); });

export function openForm(kind: KitName, id: string | null) {
  useKit.setState({ open: { kind, id } });
}

export function closeForm() {
  useKit.setState({ open: null });
}

/** Shows a kind in the list, with the form of one thing, or, without an identity, of a new one. */
export function showInKit(kind: KitName, id: string | null = null) {
  const { folded } = useKit.getState();
  showPanel("left");
  useKit.setState({ tab: "kit", find: "", folded: folded.filter((one) => one !== kind), open: { kind, id } });
}

export function foldKind(kind: KitName) {
  const { folded } = useKit.getState();
  useKit.setState({ folded: folded.includes(kind) ? folded.filter((one) => one !== kind) : [...folded, kind] });
}
