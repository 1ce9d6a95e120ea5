import { useMemo } from "react";

import { useOpenScene } from "../../state/openScene";
import type { KitKind } from "../kind";
import { LayerForm, MakeLayer } from "./Layers";

/** See `KitKind`; the highest layer comes first. */
export const layers: KitKind = {
  name: "layers",
  one: "layer",
  chapter: "Keys",
  why: "A layer holds curves over those below it, with a weight of its own: block on one, smooth on another, mute either.",
  gone: "Its keys go with it.",
  useItems: () => {
    const found = useOpenScene((scene) => scene.header.layers);
    const parts = useOpenScene((scene) => scene.parts);
    return useMemo(
      () => found.toReversed().map((layer) => {
        const held = Object.values(parts).filter((part) => part.channels.some((one) => one.on_layers[layer.id]));
        return { id: layer.id, name: layer.name, note: layer.on === false ? "muted" : layer.mode === "replace" ? "replaces" : "adds", parts: held.map(({ id }) => id) };
      }),
      [found, parts],
    );
  },
  rename: (item, name, save) => save({ do: "change layer", layer: item.id, name }),
  remove: (item, save) => save({ do: "remove layer", layer: item.id }),
  Form: LayerForm,
  Make: MakeLayer,
};
