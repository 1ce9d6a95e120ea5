/** Where the middle one of three angles comes nearest to a quarter turn: the frame, and by how many
 * degrees it misses it. */
export function nearestGimbal(angles: ArrayLike<number>, first: number): { frame: number; degrees: number } | undefined {
  let found: { frame: number; degrees: number } | undefined;
  for (let n = 0; n < angles.length; n += 1) {
    const half = Math.abs((angles[n] ?? 0) % 180);
    const degrees = Math.abs(half - 90);
    if (!found || degrees < found.degrees) found = { frame: first + n, degrees };
  }
  return found;
}
