/**
 * Smoothing along edges after enlargement, plain TypeScript: the reference the SIMD kernel is tested against.
 *
 * The structure tensor (Forstner and Gulch, 1987), summed over 3 x 3, gives each sample the direction of its edge and
 * how sure it is; there the sample is drawn towards the mean of its two neighbours along the edge. Across the edge nothing
 * is averaged, so the steps of an enlarged slanting line go and its sharpness stays.
 */

/** Steps along the eight directions of a half circle, and the cosine and sine of twice their angle. */
const DIRECTIONS = [
  { dx: 1, dy: 0, c2: 1, s2: 0 },
  { dx: 2, dy: 1, c2: Math.SQRT1_2, s2: Math.SQRT1_2 },
  { dx: 1, dy: 1, c2: 0, s2: 1 },
  { dx: 1, dy: 2, c2: -Math.SQRT1_2, s2: Math.SQRT1_2 },
  { dx: 0, dy: 1, c2: -1, s2: 0 },
  { dx: -1, dy: 2, c2: -Math.SQRT1_2, s2: -Math.SQRT1_2 },
  { dx: -1, dy: 1, c2: 0, s2: -1 },
  { dx: -2, dy: 1, c2: Math.SQRT1_2, s2: -Math.SQRT1_2 },
];

/** Samples at the border that are read and not changed. */
export const EDGE_BORDER = 4;

/** @param floor gradient energy, summed over 3 x 3, below which a direction is noise. */
export function smoothAlongReference(data: Float32Array, width: number, height: number, strength: number, floor: number): Float32Array {
  const out = data.slice();
  const at = (x: number, y: number): number => data[y * width + x];
  for (let y = EDGE_BORDER; y < height - EDGE_BORDER; y++) {
    for (let x = EDGE_BORDER; x < width - EDGE_BORDER; x++) {
      let xx = 0,
        xy = 0,
        yy = 0;
      for (let j = -1; j <= 1; j++) {
        for (let i = -1; i <= 1; i++) {
          const gx = at(x + i + 1, y + j) - at(x + i - 1, y + j),
            gy = at(x + i, y + j + 1) - at(x + i, y + j - 1);
          xx += gx * gx;
          xy += gx * gy;
          yy += gy * gy;
        }
      }
      const c2 = yy - xx,
        s2 = -2 * xy;
      const sure = Math.max(0, (2 * Math.hypot(c2, s2)) / (xx + yy + floor) - 1);
      if (sure === 0) continue;
      let most = -Infinity,
        mean = 0;
      for (const d of DIRECTIONS) {
        const fit = c2 * d.c2 + s2 * d.s2;
        if (fit > most) [most, mean] = [fit, (at(x + d.dx, y + d.dy) + at(x - d.dx, y - d.dy)) / 2];
      }
      out[y * width + x] += sure * strength * (mean - at(x, y));
    }
  }
  return out;
}
