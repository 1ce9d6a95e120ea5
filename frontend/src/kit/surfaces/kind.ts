import { useMemo } from "react";

import { useOpenScene } from "../../state/openScene";
import { choosePart } from "../../state/selection";
import { chooseSurface } from "../../state/surfaces";
import type { KitKind } from "../kind";
import { MakeSurface } from "./MakeSurface";
import { SurfaceForm } from "./Surfaces";

/** See `KitKind`. */
export const surfaces: KitKind = {
  name: "surfaces",
  one: "surface",
  chapter: "Surfaces",
  why: "A surface is a cage of points on a part; steps deform it in an order: blend shapes, bend by joints, displace, subdivide, carry.",
  gone: "Its channels go with it.",
  useItems: () => {
    const found = useOpenScene((scene) => scene.header.surfaces);
    const parts = useOpenScene((scene) => scene.parts);
    return useMemo(() => found.map((one) => ({ id: one.id, name: one.name, note: parts[one.part]?.name ?? "", parts: [one.part] })), [found, parts]);
  },
  rename: (item, name, save) => save({ do: "change surface", id: item.id, name }),
  remove: (item, save) => save({ do: "remove surface", id: item.id }),
  show: (item) => {
    choosePart(item.parts[0] ?? null);
    chooseSurface(item.id);
  },
  Form: SurfaceForm,
  Make: MakeSurface,
};
