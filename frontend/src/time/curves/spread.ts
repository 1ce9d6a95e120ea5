/** Places moved apart, so that neighbours are at least so far from each other; the order stays. */
export function spread(places: number[], apart: number): number[] {
  const order = places.map((_, n) => n).sort((a, b) => (places[a] ?? 0) - (places[b] ?? 0));
  const made = [...places];
  order.forEach((n, place) => {
    const before = order[place - 1];
    if (before !== undefined) made[n] = Math.max(made[n] ?? 0, (made[before] ?? 0) + apart);
  });
  return made;
}
