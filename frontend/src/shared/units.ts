import type { SceneHeader } from "../api/client";
import { useOpenScene } from "../state/openScene";

export type Units = SceneHeader["units"];

/** How a number is looked at: its own unit times ``times``, by ``over``. */
interface Look {
  unit: string;
  kind: "length" | "angle" | null;
  times: number;
  over: number;
  /** How many decimals more than in metres or degrees. */
  finer: number;
  /** What one arrow key adds, in this unit. */
  step: number;
}

const plain = { times: 1, over: 1, finer: 0 };
const looks: Record<string, Look> = {
  m: { unit: "m", kind: "length", ...plain, step: 0.01 },
  cm: { unit: "cm", kind: "length", times: 100, over: 1, finer: -1, step: 1 },
  mm: { unit: "mm", kind: "length", times: 1000, over: 1, finer: -2, step: 1 },
  degrees: { unit: "°", kind: "angle", ...plain, step: 1 },
  turns: { unit: "turns", kind: "angle", times: 1, over: 360, finer: 2, step: 0.01 },
};
/** Other words for the same. */
const words: Record<string, string> = { "°": "degrees", deg: "degrees", turn: "turns" };

/** In which unit numbers of a unit are looked at: metres and degrees as the open scene says, all others
 * as they are. */
export function lookOf(unit: string, units: Units = useOpenScene.getState().header.units): Look {
  const name = unit === "m" ? (units.length ?? "m") : unit === "°" ? (units.angle ?? "degrees") : "";
  return looks[name] ?? { unit, kind: null, ...plain, step: 0.01 };
}

/** The unit to be said where numbers stand without it: metres and degrees go without saying. */
export function saidUnit(unit: string): string {
  const look = lookOf(unit);
  return look.times === look.over ? "" : look.unit;
}

/** The sign of degrees, where they are looked at: it stands also in narrow fields. */
export function degreeSign(unit: string): string {
  return lookOf(unit).unit === "°" ? "°" : "";
}

/** A number as it is looked at, without the digits that come of the arithmetic. */
export function looked(value: number, look: Look): number {
  return look.times === look.over ? value : Number(((value * look.times) / look.over).toPrecision(13));
}

/** The number of what is looked at. */
export function meant(value: number, look: Look): number {
  return look.times === look.over ? value : Number(((value * look.over) / look.times).toPrecision(15));
}

/** What was typed with another unit behind it, in the unit of the field: `2 m` where centimetres are
 * looked at is 200, `+=5 mm` adds a half. A factor has no unit. A unit that a channel was given stays
 * what it is. */
export function inUnits(text: string, look: Look): string {
  const typed = text.trim();
  if (!look.kind && look.unit && typed.endsWith(look.unit)) return typed.slice(0, -look.unit.length);
  const [, change = "", number = "", word = ""] = /^\s*([-+]=?|)(.*?)\s*(m|cm|mm|°|deg|degrees|turns?)\s*$/i.exec(text) ?? [];
  const lower = word.toLowerCase();
  const other = looks[words[lower] ?? lower];
  if (!number || !other || /^\s*[*/]/.test(number) || !other.kind || other.kind !== look.kind || other === look) return text;
  return `${change}(${number})*${String(other.over * look.times)}/${String(other.times * look.over)}`;
}
