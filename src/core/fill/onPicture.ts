import { planeRegion, type Picture, type Region } from '../picture/picture';
import type { Hole } from './hole';

/** A part of the frame, 1 where it is damaged. */
export interface DamageMask {
  region: Region;
  missing: Uint8Array<ArrayBuffer>;
  /** Where stains are, through which the picture may show, as `liftStains` takes it; nowhere when left out. */
  veiled?: Uint8Array<ArrayBuffer>;
  /** 1 where somebody painted the damage, so that nothing which shows there is taken for the picture; nowhere when left out. */
  painted?: Uint8Array<ArrayBuffer>;
}

/** A window of a plane of bytes that covers a region. */
export const cutBytes = (bytes: Uint8Array, from: Region, window: Region): Uint8Array<ArrayBuffer> =>
  cutInto(new Uint8Array(window.width * window.height), bytes, from, window);

/** As `cutBytes`, of codes. */
export const cutCodes = (codes: Uint16Array, from: Region, window: Region): Uint16Array =>
  cutInto(new Uint16Array(window.width * window.height), codes, from, window);

function cutInto<T extends Uint8Array | Uint16Array>(
  out: T,
  values: Uint8Array | Uint16Array,
  from: Region,
  { x, y, width, height }: Region,
): T {
  for (let row = 0; row < height; row++) {
    const at = (y + row - from.y) * from.width + x - from.x;
    out.set(values.subarray(at, at + width), row * width);
  }
  return out;
}

/** A window with all of its planes on the luma's raster. */
export function holeOf(source: Picture, { region, missing, painted }: DamageMask, window: Region): Hole {
  const { x: left, y: top, width, height } = window;
  const { info } = source;
  const hole: Hole = {
    width,
    height,
    planes: source.planes.map(() => new Uint16Array(width * height)),
    missing: cutBytes(missing, region, window),
    painted: painted && cutBytes(painted, region, window),
  };
  for (const [index, plane] of source.planes.entries()) {
    const own = planeRegion(info, index, source.region);
    const shiftX = index ? info.chromaShiftX : 0,
      shiftY = index ? info.chromaShiftY : 0;
    for (let y = 0; y < height; y++) {
      const row = (((top + y) >> shiftY) - own.y) * plane.width - own.x;
      for (let x = 0; x < width; x++) hole.planes[index][y * width + x] = plane.data[row + ((left + x) >> shiftX)];
    }
  }
  return hole;
}

/**
 * Lays samples over a part of a picture, which is changed, as far as they cover it; coarse chroma samples as far as their pixels are covered
 * together.
 *
 * @param filled planes of the window, all on the luma's raster.
 * @param cover of each pixel of the window, 0 to 1.
 */
export function layOver({ info, region, planes }: Picture, window: Region, filled: ArrayLike<number>[], cover: Float32Array): void {
  for (const [index, plane] of planes.entries()) {
    const shiftX = index ? info.chromaShiftX : 0,
      shiftY = index ? info.chromaShiftY : 0;
    const ownX = region.x >> shiftX,
      ownY = region.y >> shiftY;
    const right = (window.x + window.width + (1 << shiftX) - 1) >> shiftX,
      bottom = (window.y + window.height + (1 << shiftY) - 1) >> shiftY;
    for (let y = window.y >> shiftY; y < bottom; y++) {
      for (let x = window.x >> shiftX; x < right; x++) {
        const at = (y - ownY) * plane.width + x - ownX;
        let change = 0,
          count = 0;
        for (let py = (y << shiftY) - window.y; py < Math.min(window.height, ((y + 1) << shiftY) - window.y); py++) {
          for (let px = (x << shiftX) - window.x; px < Math.min(window.width, ((x + 1) << shiftX) - window.x); px++) {
            const i = py * window.width + px;
            count++;
            if (cover[i] > 0) change += cover[i] * (filled[index][i] - plane.data[at]);
          }
        }
        if (change !== 0) plane.data[at] = Math.min(65535, Math.max(0, Math.round(plane.data[at] + change / count)));
      }
    }
  }
}
