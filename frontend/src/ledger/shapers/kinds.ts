import type { StepView } from "../../api/client";

type Settings = StepView["settings"];
export const shaperKinds = ["wave", "noise", "smooth", "on nths", "shift", "strength"] as const;
export type ShaperKind = (typeof shaperKinds)[number];
export type ShaperSettings = Extract<Settings, { kind?: ShaperKind }>;

export const shaperHints: Record<ShaperKind, string> = {
  wave: "swings by so much in so many frames",
  noise: "wanders by so much, the same each time",
  smooth: "the mean of the frames around",
  "on nths": "holds every n-th frame",
  shift: "comes some frames later or earlier",
  strength: "goes farther from a value, or less far",
};

export function isShaper(settings: Settings): settings is ShaperSettings {
  return (shaperKinds as readonly string[]).includes(settings.kind ?? "");
}
