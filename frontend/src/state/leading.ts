import { create } from "zustand";

import type { OneEdit } from "../api/client";
import { useOpenScene } from "./openScene";
import { perScene } from "./perScene";

/** The lead groups whose lead is taken from what is moved by hand. */
export const useLeading = create<{ on: string[] }>(() => ({ on: [] }));

perScene(() => { useLeading.setState({ on: [] }); });

export function toggleLeading(group: string) {
  const { on } = useLeading.getState();
  useLeading.setState({ on: on.includes(group) ? on.filter((one) => one !== group) : [...on, group] });
}

/** The edits that make moved members lead their groups first, where that is switched on. */
export function leadEdits(parts: string[], frame: number): OneEdit[] {
  const { header } = useOpenScene.getState();
  return header.leads.flatMap((group): OneEdit[] => {
    const member = parts.findLast((part) => group.members?.includes(part));
    if (!useLeading.getState().on.includes(group.id) || !member || leads(group.id, group.part, frame) === (group.members?.indexOf(member) ?? -1) + 1) return [];
    return [{ do: "key lead", id: group.id, frame, part: member }];
  });
}

/** Who leads the position on a frame, as its hold keys say. */
function leads(group: string, part: string, frame: number): number {
  const channel = useOpenScene.getState().parts[part]?.channels.find(({ id }) => id === `${group}.position`);
  const key = channel?.curve?.keys.findLast((one) => one.frame <= frame) ?? channel?.curve?.keys[0];
  return key?.value ?? channel?.value ?? 0;
}
