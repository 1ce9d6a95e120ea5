import { useMemo } from "react";

import { LimbCard, limbEdit } from "../../ledger/limbs/LimbCard";
import { counted } from "../../shared/format";
import { useOpenScene } from "../../state/openScene";
import { limbHands } from "../../shared/limbParts";
import type { KitKind } from "../kind";
import { MakeLimb } from "./MakeLimb";

/** See `KitKind`. */
export const limbs: KitKind = {
  name: "limbs",
  one: "limb",
  chapter: "Limbs",
  why: "A limb bends a chain of parts by IK, on top of its FK pose, until its end is on its goal.",
  gone: "Its parts stay where their own channels put them.",
  useItems: () => {
    const found = useOpenScene((scene) => scene.header.limbs);
    const parts = useOpenScene((scene) => scene.parts);
    return useMemo(
      () => found.map((limb) => ({ id: limb.id, name: limb.name, note: counted((limb.chain ?? []).length, "part"), parts: limbHands(limb, parts) })),
      [found, parts],
    );
  },
  rename: async (item, name, save) => {
    const limb = useOpenScene.getState().header.limbs.find(({ id }) => id === item.id);
    return limb ? save(limbEdit(limb, { name })) : false;
  },
  remove: (item, save) => save({ do: "remove limb", id: item.id }),
  Form: LimbForm,
  Make: MakeLimb,
};

function LimbForm({ id }: { id: string }) {
  const limb = useOpenScene((scene) => scene.header.limbs.find((one) => one.id === id));
  return limb ? <LimbCard limb={limb} /> : null;
}
