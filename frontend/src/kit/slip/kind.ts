import { useMemo } from "react";

import { useOpenScene } from "../../state/openScene";
import type { KitKind } from "../kind";
import { MakeProbe, ProbeForm, probeEdit } from "./SlipProbes";

/** See `KitKind`. */
export const probes: KitKind = {
  name: "slip probes",
  one: "slip probe",
  chapter: "Rolling without slip",
  why: "A slip probe shows on each frame how far a point moves against what it should stick to: a wheel on its ground, a foot on a deck.",
  gone: "Nothing else changes.",
  useItems: () => {
    const found = useOpenScene((scene) => scene.header.probes);
    const parts = useOpenScene((scene) => scene.parts);
    return useMemo(() => found.map((one) => ({ id: one.id, name: one.name, note: parts[one.part]?.name ?? "", parts: [one.part] })), [found, parts]);
  },
  rename: async (item, name, save) => {
    const probe = useOpenScene.getState().header.probes.find(({ id }) => id === item.id);
    return probe ? save(probeEdit(probe, { name })) : false;
  },
  remove: (item, save) => save({ do: "remove probe", id: item.id }),
  Form: ProbeForm,
  Make: MakeProbe,
};
