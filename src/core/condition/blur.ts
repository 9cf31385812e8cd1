import { SIGMA_UNIT, type Plane } from '../picture/picture';

/** Least slope of an edge that is judged, in codes of 255, and how many edges a judgement needs. */
const SLOPE = 20;
const EDGES = 60;
/** Half the width an edge is followed. */
const REACH = 6;
/** What a step between two samples measures: the raster's own softness. */
const RASTER = 0.42;
/** Real edges are seldom perfect steps; found on photographs blurred by known amounts. */
const SCALE = 1.1;

/**
 * Deviation of the point spread in pixels, from the sharpest quarter of the clear edges: the step's height over its
 * steepest slope is the width of the edge (edge-width measures: Marziliano and others, 2002). Sideways only, so that
 * fields do not matter.
 *
 * @returns undefined where there are too few clear edges.
 */
export function measureBlur({ width, height, data }: Plane): number | undefined {
  const widths: number[] = [];
  const least = SLOPE * SIGMA_UNIT;
  for (let y = 0; y < height; y += 4) {
    const row = y * width;
    const slope = (x: number): number => data[row + x + 1] - data[row + x];
    for (let x = REACH + 1; x + REACH + 2 < width; x++) {
      const d = slope(x),
        steep = Math.abs(d);
      if (steep < least || steep < Math.abs(slope(x - 1)) || steep <= Math.abs(slope(x + 1))) continue;
      let rise = steep;
      for (const way of [-1, 1]) {
        for (let k = 1; k <= REACH; k++) {
          const next = slope(x + way * k) * Math.sign(d);
          if (next <= 0.05 * steep) break;
          rise += next;
        }
      }
      widths.push(rise / steep / Math.sqrt(2 * Math.PI));
    }
  }
  if (widths.length < EDGES) return undefined;
  widths.sort((a, b) => a - b);
  return SCALE * Math.sqrt(Math.max(0, widths[widths.length >> 2] ** 2 - RASTER ** 2));
}
