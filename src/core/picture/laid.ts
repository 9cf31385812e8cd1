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
  for (let y = 0; y < region.height; y++)
    for (let x = 0; x < region.width; x++) {
      const sum = [0, 0, 0];
      for (let v = 0; v < parts; v++)
        for (let u = 0; u < parts; u++)
          addSample(
            laid,
            left + (region.x + x + (u + 0.5) / parts) * scale - 0.5,
            top + (region.y + y + (v + 0.5) / parts) * scale - 0.5,
            sum,
          );
      for (let c = 0; c < 3; c++) out[3 * (y * region.width + x) + c] = Math.round(sum[c] / (parts * parts));
    }
  return pictureOfRgb(out, info, region);
}

/** Adds the sample at a place between four. */
function addSample({ width, height, data }: LaidPicture, u: number, v: number, sum: number[]): void {
  const px = Math.min(width - 1, Math.max(0, u)),
    py = Math.min(height - 1, Math.max(0, v));
  const x0 = Math.floor(px),
    y0 = Math.floor(py),
    x1 = Math.min(width - 1, x0 + 1),
    y1 = Math.min(height - 1, y0 + 1);
  const fx = px - x0,
    fy = py - y0;
  for (let c = 0; c < 3; c++) {
    const above = data[3 * (y0 * width + x0) + c] * (1 - fx) + data[3 * (y0 * width + x1) + c] * fx,
      below = data[3 * (y1 * width + x0) + c] * (1 - fx) + data[3 * (y1 * width + x1) + c] * fx;
    sum[c] += above * (1 - fy) + below * fy;
  }
}
