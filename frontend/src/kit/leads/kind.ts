import { useMemo } from "react";

import { counted } from "../../shared/format";
import { useOpenScene } from "../../state/openScene";
import type { KitKind } from "../kind";
import { groupEdit, LeadGroupForm, MakeLeadGroup } from "./LeadGroup";

/** See `KitKind`. */
export const leadGroups: KitKind = {
  name: "lead groups",
  one: "lead group",
  chapter: "Lead groups",
  why: "A lead group holds parts of which any one can carry the others; who leads is keyed.",
  gone: "Its members stay where their own channels put them.",
  useItems: () => {
    const found = useOpenScene((scene) => scene.header.leads);
    return useMemo(
      () => found.map((group) => ({ id: group.id, name: group.name, note: counted((group.members ?? []).length, "part"), parts: group.members ?? [] })),
      [found],
    );
  },
  rename: async (item, name, save) => {
    const group = useOpenScene.getState().header.leads.find(({ id }) => id === item.id);
    return group ? save(groupEdit(group, { name })) : false;
  },
  remove: (item, save) => save({ do: "remove lead group", id: item.id }),
  Form: LeadGroupForm,
  Make: MakeLeadGroup,
};
