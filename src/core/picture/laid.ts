import { scaling, type Projective } from '../../shared/maps/place';
import { addBetween } from './between';
import { pictureOfRgb } from './matrix';
import type { Picture, Region, StreamInfo } from './picture';

/** Another picture that a step lays into its own: red, green and blue, 16 bits each, row by row. */
export interface LaidPicture {
  width: number;
  height: number;
  data: Uint16Array;
  /** Of a face that others are restored by: pairs of x and y of its mesh, in the picture's pixels. */
  mesh?: Float32Array;
}

/**
 * A part of a stream's frame that another picture fills: scaled until it covers the frame, its middle on the frame's, what is too much cut off.
 */
export function coveringPicture(laid: LaidPicture, info: StreamInfo, region: Region): Picture {
  const scale = Math.min(laid.width / info.width, laid.height / info.height);
  const left = (laid.width - info.width * scale) / 2,
    top = (laid.height - info.height * scale) / 2;
  return pictureThrough(laid, { to: scaling(scale, scale, left, top), reduction: scale }, info, region);
}

/** Samples of another picture a side, at most, of which one pixel is the mean. */
const MOST_PARTS = 16;

/** How many pixels of another picture one of a stream covers, in its length, in the middle of a part. */
export function reductionOf([a, b, , d, e, , g, h, i]: Projective, { x, y, width, height }: Region): number {
  const w = g * (x + width / 2) + h * (y + height / 2) + i;
  return Math.max(Math.hypot(a, d), Math.hypot(b, e)) / Math.abs(w);
}

/** How a stream's pixels meet those of a picture that is laid in. */
export interface Through {
  /** From the stream's pixels to the picture's. */
  to: Projective;
  /** How many of the picture's one of the stream's covers, in its length. */
  reduction: number;
}

/**
 * A part of a stream's frame as another picture shows it there. Where that is reduced, samples are means over what they cover; where it is enlarged,
 * they lie between its own; beyond its edges those repeat.
 */
export const pictureThrough = (laid: LaidPicture, through: Through, info: StreamInfo, region: Region): Picture =>
  pictureOfRgb(rgbThrough(laid, through, region), info, region);

/** Red, green and blue, row by row, of a part as another picture shows it there: means where that is reduced, between its samples where enlarged. */
export function rgbThrough(laid: LaidPicture, { to, reduction }: Through, region: Region): Uint16Array {
  const parts = Math.min(MOST_PARTS, Math.max(1, Math.ceil(reduction - 1e-9)));
  const out = new Uint16Array(3 * region.width * region.height);
  const sum = new Float64Array(3);
  const [a, b, c, d, e, f, g, h, i] = to;
  for (let y = 0; y < region.height; y++)
    for (let x = 0; x < region.width; x++) {
      sum.fill(0);
      for (let v = 0; v < parts; v++)
        for (let u = 0; u < parts; u++) {
          const px = region.x + x + (u + 0.5) / parts,
            py = region.y + y + (v + 0.5) / parts;
          const w = g * px + h * py + i;
          addBetween(laid, (a * px + b * py + c) / w - 0.5, (d * px + e * py + f) / w - 0.5, sum);
        }
      for (let k = 0; k < 3; k++) out[3 * (y * region.width + x) + k] = Math.round(sum[k] / (parts * parts));
    }
  return out;
}
