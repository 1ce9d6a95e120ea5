import { useMemo } from "react";

import type { PartView, StepView } from "../../api/client";
import { useOpenScene } from "../../state/openScene";
import { choosePart, chooseStep } from "../../state/selection";
import type { KitKind } from "../kind";
import { MakePlant, PlantForm } from "./Plant";

/** See `KitKind`; a plant is a step of the part that stands still. */
export const plants: KitKind = {
  name: "plants",
  one: "plant",
  chapter: "Checks",
  why: "A plant lets a part stand still in the world over spans of frames while what carries it moves.",
  gone: "The part goes along again with what carries it.",
  useItems: () => {
    const parts = useOpenScene((scene) => scene.parts);
    return useMemo(() => Object.values(parts).flatMap((part) => plantsOf(part).map((step) => ({ id: step.id, name: step.name, note: part.name, parts: [part.id] }))), [parts]);
  },
  rename: (item, name, save) => save({ do: "change step", step: item.id, name }),
  remove: (item, save) => save({ do: "remove step", step: item.id }),
  show: (item) => {
    choosePart(item.parts[0] ?? null);
    chooseStep(item.id);
  },
  Form: PlantForm,
  Make: MakePlant,
};

function plantsOf(part: PartView): StepView[] {
  return part.steps.filter(({ settings }) => settings.kind === "plant");
}
