import { addBetween } from './between';
import { pictureOfRgb } from './matrix';
import type { Picture, Region, StreamInfo } from './picture';

/** Another picture that a step lays into its own: red, green and blue, 16 bits each, row by row. */
export interface LaidPicture {
  width: number;
  height: number;
  data: Uint16Array;
}

/**
 * A part of a stream's frame that another picture fills: scaled until it covers the frame, its middle on the frame's, what is too much cut off. Where it
 * is reduced, samples are means over what they cover; where it is enlarged, they lie between its own.
 */
export function coveringPicture(laid: LaidPicture, info: StreamInfo, region: Region): Picture {
  const scale = Math.min(laid.width / info.width, laid.height / info.height);
  const left = (laid.width - info.width * scale) / 2,
    top = (laid.height - info.height * scale) / 2;
  const parts = Math.max(1, Math.ceil(scale));
  const out = new Uint16Array(3 * region.width * region.height);
  const sum = new Float64Array(3);
  const at = (start: number, pixel: number, part: number): number => start + (pixel + (part + 0.5) / parts) * scale - 0.5;
  for (let y = 0; y < region.height; y++)
    for (let x = 0; x < region.width; x++) {
      sum.fill(0);
      for (let v = 0; v < parts; v++)
        for (let u = 0; u < parts; u++) addBetween(laid, at(left, region.x + x, u), at(top, region.y + y, v), sum);
      for (let c = 0; c < 3; c++) out[3 * (y * region.width + x) + c] = Math.round(sum[c] / (parts * parts));
    }
  return pictureOfRgb(out, info, region);
}
