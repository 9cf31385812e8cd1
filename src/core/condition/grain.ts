import { SIGMA_UNIT, type Plane } from '../picture/picture';

const BLOCK = 16;

/**
 * Deviation of the grain of a plane on the 0 to 255 scale.
 *
 * Each block's grain is the mean absolute response to a mask that is blind to planes and curvature (Immerkaer, 1996); of
 * all blocks that are neither black nor white the quieter ones are taken, since structure only adds to the response.
 *
 * @param fields whether the lines of alternate fields must not be mixed.
 */
export function measureGrain(plane: Plane, fields: boolean): number {
  const { width, height, data } = plane;
  const line = fields ? 2 * width : width;
  const rows = fields ? 2 : 1;
  const levels: number[] = [];
  for (let y0 = rows; y0 + BLOCK + rows <= height; y0 += BLOCK) {
    for (let x0 = 1; x0 + BLOCK < width; x0 += BLOCK) {
      let sum = 0,
        mean = 0;
      for (let y = y0; y < y0 + BLOCK; y++) {
        for (let i = y * width + x0, end = i + BLOCK; i < end; i++) {
          const r =
            data[i - line - 1] -
            2 * data[i - line] +
            data[i - line + 1] -
            2 * (data[i - 1] - 2 * data[i] + data[i + 1]) +
            data[i + line - 1] -
            2 * data[i + line] +
            data[i + line + 1];
          sum += Math.abs(r);
          mean += data[i];
        }
      }
      mean /= BLOCK * BLOCK;
      if (mean < 5500 || mean > 59000) continue;
      // The mask's weights square to 36; a normal variable's mean modulus is sqrt(2 / pi) of its deviation.
      levels.push((Math.sqrt(Math.PI / 2) * sum) / (BLOCK * BLOCK * 6));
    }
  }
  if (levels.length === 0) return 0;
  levels.sort((a, b) => a - b);
  // The quiet tenth to quarter; their order statistics lie a little below the true level of pure noise.
  const from = Math.floor(levels.length * 0.1),
    to = Math.max(from + 1, Math.floor(levels.length * 0.25));
  const quiet = levels.slice(from, to);
  return (quiet.reduce((a, b) => a + b, 0) / quiet.length / SIGMA_UNIT) * 1.06;
}
