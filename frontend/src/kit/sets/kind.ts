import { useMemo } from "react";

import type { PartSet } from "../../api/client";
import { counted } from "../../shared/format";
import { useOpenScene } from "../../state/openScene";
import type { KitKind } from "../kind";
import { membersOf, setEdit } from "./edits";
import { MakeSet, SetForm } from "./Sets";

/** See `KitKind`. */
export const sets: KitKind = {
  name: "sets",
  one: "set",
  chapter: "Parts",
  why: "A set keeps parts, or channels, together: to choose, hide or isolate them again, and as a key scope that never forgets a switch.",
  gone: "Its members stay.",
  useItems: () => {
    const found = useOpenScene((scene) => scene.header.sets);
    return useMemo(() => found.map((set) => ({ id: set.id, name: set.name, note: held(set), parts: membersOf(set) })), [found]);
  },
  rename: async (item, name, save) => {
    const set = useOpenScene.getState().header.sets.find(({ id }) => id === item.id);
    return set ? save(setEdit(set, { name })) : false;
  },
  remove: (item, save) => save({ do: "remove set", id: item.id }),
  Form: SetForm,
  Make: MakeSet,
};

function held({ parts = [], channels = [] }: PartSet): string {
  const words = [parts.length ? counted(parts.length, "part") : "", channels.length ? `${String(channels.length)} ch.` : ""];
  return words.filter(Boolean).join(" ");
}
