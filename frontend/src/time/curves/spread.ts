/** Places moved apart, so that neighbours are at least so far from each other and none is beyond the
 * lowest; the order stays. */
export function spread(places: number[], apart: number, lowest = Infinity): number[] {
  const order = places.map((_, n) => n).sort((a, b) => (places[a] ?? 0) - (places[b] ?? 0));
  const made = [...places];
  let above = -Infinity;
  for (const n of order) {
    above = Math.max(made[n] ?? 0, above + apart);
    made[n] = above;
  }
  let below = lowest + apart;
  for (const n of order.toReversed()) {
    below = Math.min(made[n] ?? 0, below - apart);
    made[n] = below;
  }
  return made;
}
