import { toRgb } from '../picture/matrix';
import type { Picture } from '../picture/picture';
import { reducedPicture } from '../picture/reduced';

/** Red, green and blue, a byte each: what networks of packages see. */
export interface Rgb {
  data: Uint8Array;
  width: number;
  height: number;
}

export const rgbOf = (picture: Picture): Rgb => ({
  data: toRgb(picture, 8) as Uint8Array,
  width: picture.region.width,
  height: picture.region.height,
});

/** A picture reduced by a whole number, so that it has no more than so many pixels. */
export const fewerPixels = (picture: Picture, most: number): Picture =>
  reducedPicture(picture, Math.ceil(Math.sqrt((picture.region.width * picture.region.height) / most)));

/** A part of a picture; it lies inside. */
export function cutRgb({ data, width }: Rgb, left: number, top: number, w: number, h: number): Rgb {
  const out = new Uint8Array(3 * w * h);
  for (let y = 0; y < h; y++) {
    const from = 3 * ((top + y) * width + left);
    out.set(data.subarray(from, from + 3 * w), 3 * y * w);
  }
  return { data: out, width: w, height: h };
}

/** A picture with so many pixels more on each side, as the border's own go on. */
export function paddedRgb({ data, width, height }: Rgb, by: number): Rgb {
  const w = width + 2 * by,
    h = height + 2 * by;
  const out = new Uint8Array(3 * w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const from = 3 * (Math.min(height - 1, Math.max(0, y - by)) * width + Math.min(width - 1, Math.max(0, x - by)));
      for (let c = 0; c < 3; c++) out[3 * (y * w + x) + c] = data[from + c];
    }
  return { data: out, width: w, height: h };
}

/** Means over the pixels of each new one; where there are more new ones, the nearest. */
export function reducedRgb({ data, width, height }: Rgb, w: number, h: number): Rgb {
  const out = new Uint8Array(3 * w * h);
  const from = (at: number, size: number, to: number): number => Math.floor((at * size) / to);
  for (let y = 0; y < h; y++) {
    const top = from(y, height, h),
      bottom = Math.max(top + 1, from(y + 1, height, h));
    for (let x = 0; x < w; x++) {
      const left = from(x, width, w),
        right = Math.max(left + 1, from(x + 1, width, w));
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let v = top; v < bottom; v++) for (let u = left; u < right; u++) sum += data[3 * (v * width + u) + c];
        out[3 * (y * w + x) + c] = Math.round(sum / ((bottom - top) * (right - left)));
      }
    }
  }
  return { data: out, width: w, height: h };
}
