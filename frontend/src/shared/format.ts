/** A value as people read it: fixed decimals, a true minus, no minus zero, its unit. */
export function shown(value: number | undefined | null, unit = "", decimals?: number): string {
  if (value === undefined || value === null) return "—";
  const places = decimals ?? (unit === "°" ? 2 : 3);
  const text = value.toFixed(places);
  const plain = Number(text) === 0 ? text.replace("-", "") : text.replace("-", "−");
  return unit === "°" ? `${plain}°` : unit ? `${plain} ${unit}` : plain;
}

/** How long something took, from microseconds. */
export function duration(microseconds: number): string {
  return microseconds >= 1000 ? `${(microseconds / 1000).toFixed(1)} ms` : `${microseconds.toFixed(0)} µs`;
}

/** A frame or value for a text field: as short as it can be, all its digits. */
export function exact(value: number): string {
  return String(value);
}

/** Numbers for a curve's axis, short. */
export function tick(value: number): string {
  return (Math.abs(value) < 1e-9 ? 0 : Number(value.toPrecision(6))).toString().replace("-", "−");
}
