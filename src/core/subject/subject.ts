import { tapsBetween } from '../picture/between';
import { codes } from '../picture/matrix';
import { planeRegion, type Picture, type Region } from '../picture/picture';

/**
 * Where the people of a picture are, so that it can be told at any size: for each place of a small raster a line that gives opacity by lightness, by
 * which the mask follows the edges of the large picture (fast guided filter, He and Sun, 2015).
 */
export interface Subject {
  width: number;
  height: number;
  /** Opacity gained over all of the lightness, and that of black, `SCALE` to one. */
  slopes: Int16Array;
  levels: Int16Array;
  /** Share of the picture that is subject, 0 to 1. */
  share: number;
}

/** Units of slopes and levels in one. */
export const SCALE = 1024;
/** Opacities below and above which all is ground and all is subject: what the guided filter leaves of texture. */
const CLEAR = 0.12,
  SOLID = 0.88;

/** How far each luma sample of a part of a picture is subject, 0 to 1. @param source holds the region. */
export function subjectMask({ width, height, slopes, levels }: Subject, source: Picture, region: Region): Float32Array<ArrayBuffer> {
  const { info } = source;
  const own = planeRegion(info, 0, source.region);
  const { black, luma } = codes(info.colour.range);
  const [{ data }] = source.planes;
  const out = new Float32Array(region.width * region.height);
  const columns = Array.from({ length: region.width }, (_, x) => tapsBetween((region.x + x + 0.5) / info.width, width));
  for (let y = 0; y < region.height; y++) {
    const [top, low, down] = tapsBetween((region.y + y + 0.5) / info.height, height);
    const above = top * width,
      below = low * width;
    const row = (region.y + y - own.y) * own.width + region.x - own.x;
    for (let x = 0; x < region.width; x++) {
      const [left, next, right] = columns[x];
      const at = (plane: Int16Array): number =>
        (plane[above + left] * (1 - right) + plane[above + next] * right) * (1 - down) +
        (plane[below + left] * (1 - right) + plane[below + next] * right) * down;
      const opacity = (at(slopes) * ((data[row + x] - black) / luma) + at(levels)) / SCALE;
      out[y * region.width + x] = Math.min(1, Math.max(0, (opacity - CLEAR) / (SOLID - CLEAR)));
    }
  }
  return out;
}
