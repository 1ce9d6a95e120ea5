import { useEffect } from "react";

import type { BakeView, OneEdit } from "../api/client";
import { useEdit } from "../state/useEdit";

/** What was sent of bakes and has not come back: an edit gives the whole bake, so the next one is made of
 * it too. */
const underWay = new Map<string, { edits: number; what: Partial<BakeView> }>();

/** Changes some of a bake, also while an earlier change is under way. */
export function useChangeBake(bake: BakeView): (what: Partial<BakeView>) => Promise<boolean> {
  const edit = useEdit();
  useEffect(() => {
    if (!underWay.get(bake.id)?.edits) underWay.delete(bake.id);
  }, [bake]);
  return async (what) => {
    const before = underWay.get(bake.id);
    const ahead = { edits: (before?.edits ?? 0) + 1, what: { ...before?.what, ...what } };
    underWay.set(bake.id, ahead);
    const stored = await edit(putOf(bake, ahead.what));
    const now = underWay.get(bake.id);
    if (now) underWay.set(bake.id, { edits: now.edits - 1, what: stored ? now.what : without(now.what, what) });
    return stored;
  };
}

function putOf(bake: BakeView, what: Partial<BakeView>): OneEdit {
  const { id, name, first, last, by, set, parts, own_channels, step, tolerance, follows } = { ...bake, ...what };
  return { do: "put bake", id, name, first, last, by, set, parts, own_channels, step, tolerance, follows };
}

function without(all: Partial<BakeView>, some: Partial<BakeView>): Partial<BakeView> {
  return Object.fromEntries(Object.entries(all).filter(([key]) => !(key in some)));
}
