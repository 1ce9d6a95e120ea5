import { degreeSign, looked, lookOf } from "./units";

/** A value as people read it, in the unit in which the scene is looked at, which follows it. */
export function shown(value: number | undefined | null, unit = "", decimals?: number): string {
  if (value === undefined || value === null) return "—";
  const { unit: word } = lookOf(unit);
  return `${figure(value, unit, decimals)}${word === "°" || !word ? "" : " "}${word}`;
}

/** The same without the unit: fixed decimals, a true minus, no minus zero. */
export function figure(value: number, unit = "", decimals?: number): string {
  const look = lookOf(unit);
  const places = Math.max((decimals ?? (unit === "°" ? 2 : 3)) + look.finer, 0);
  const text = looked(value, look).toFixed(places);
  return Number(text) === 0 ? text.replace("-", "") : text.replace("-", "−");
}

/** A value in a narrow field: only degrees say what they are there; a head nearby says other units. */
export function inField(value: number, unit: string): string {
  return figure(value, unit) + degreeSign(unit);
}

/** How long something took, from microseconds. */
export function duration(microseconds: number): string {
  return microseconds >= 1000 ? `${(microseconds / 1000).toFixed(1)} ms` : `${microseconds.toFixed(0)} µs`;
}

/** A value as short as it can be, with a true minus, in the unit in which the scene is looked at, which is
 * said elsewhere. */
export function brief(value: number, unit: string, digits: number): string {
  const look = lookOf(unit);
  const seen = looked(value, look);
  return exact(Number(look.finer > 0 ? seen.toFixed(4) : seen.toPrecision(digits))).replaceAll("-", "−");
}

/** A frame or value for a text field: as short as it can be, all its digits. */
export function exact(value: number): string {
  return String(value);
}

/** Numbers for a curve's axis, short. */
export function tick(value: number): string {
  return (Math.abs(value) < 1e-9 ? 0 : Number(value.toPrecision(6))).toString().replace("-", "−");
}

/** How many of something, in a sentence: 1 key, 2 keys. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count.toLocaleString("en")} ${count === 1 ? one : many}`;
}
