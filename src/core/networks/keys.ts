/**
 * Taps of the Keys cubic (a = -1/2, 1981) for each phase of an enlargement: sample `n * factor + phase` of the large line is
 * the sum of taps[phase * 6 + t] times sample n - 2 + t of the small one, for t 0 to 5.
 */
export function keysTaps(factor: number): Float32Array {
  const taps = new Float32Array(factor * 6);
  for (let phase = 0; phase < factor; phase++) {
    const at = (phase + 0.5) / factor - 0.5;
    for (let t = 0; t < 6; t++) taps[phase * 6 + t] = cubic(Math.abs(at - (t - 2)));
  }
  return taps;
}

const cubic = (t: number): number => (t < 1 ? 1.5 * t ** 3 - 2.5 * t ** 2 + 1 : t < 2 ? -0.5 * t ** 3 + 2.5 * t ** 2 - 4 * t + 2 : 0);
