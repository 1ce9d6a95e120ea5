/**
 * The outline of a sound as a path: for each pixel its highest and lowest sample.
 * @param samples from −1 to 1
 * @param rate samples a second
 * @param seconds where in the sound the left edge of a pixel is
 * @param ends the first and the last pixel
 */
export function waveOf(samples: Float32Array, rate: number, seconds: (pixel: number) => number, ends: [number, number], height: number): string {
  const middle = height / 2;
  const upper: string[] = [];
  const lower: string[] = [];
  for (let pixel = Math.ceil(ends[0]); pixel < ends[1]; pixel++) {
    const from = Math.floor(seconds(pixel) * rate);
    const to = Math.max(Math.ceil(seconds(pixel + 1) * rate), from + 1);
    if (to <= 0 || from >= samples.length) continue;
    let low = 0;
    let high = 0;
    for (let n = Math.max(from, 0); n < Math.min(to, samples.length); n++) {
      const sample = samples[n] ?? 0;
      if (sample < low) low = sample;
      if (sample > high) high = sample;
    }
    const text = (value: number) => `${String(pixel)},${(middle - value * (middle - 1)).toFixed(1)}`;
    upper.push(text(Math.max(high, 0.03)));
    lower.push(text(Math.min(low, -0.03)));
  }
  return upper.length ? `M${upper.join("L")}L${lower.reverse().join("L")}Z` : "";
}
