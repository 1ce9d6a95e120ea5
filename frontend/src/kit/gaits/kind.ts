import { useMemo } from "react";

import { counted } from "../../shared/format";
import { useOpenScene } from "../../state/openScene";
import type { KitKind } from "../kind";
import { gaitEdit } from "./edits";
import { GaitForm } from "./Gaits";
import { MakeGait } from "./MakeGait";

/** See `KitKind`. */
export const gaits: KitKind = {
  name: "gaits",
  one: "gait",
  chapter: "Walking by rule",
  why: "A gait lets feet walk by rule along the path of a root.",
  gone: "Its numbers and the formulas that go by it go too; the feet stay where their own channels put them.",
  useItems: () => {
    const found = useOpenScene((scene) => scene.header.gaits);
    return useMemo(
      () => found.map((gait) => ({ id: gait.id, name: gait.name, note: counted((gait.feet ?? []).length, "foot", "feet"), parts: [...(gait.feet ?? []).map(({ part }) => part), gait.part] })),
      [found],
    );
  },
  rename: async (item, name, save) => {
    const gait = useOpenScene.getState().header.gaits.find(({ id }) => id === item.id);
    return gait ? save(gaitEdit(gait, { name })) : false;
  },
  remove: (item, save) => save({ do: "remove gait", id: item.id }),
  Form: GaitForm,
  Make: MakeGait,
};
