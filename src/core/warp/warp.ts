import { composePlaces, invertPlace, placeOf, pointAt, scaling, type Projective } from '../../shared/maps/place';
import type { Point } from './quadrilateral';
import {
  growRegion,
  NEUTRAL_CHROMA,
  newPlane,
  planeRegion,
  type Picture,
  type Plane,
  type Region,
  type StreamInfo,
} from '../picture/picture';

/** Pixels round a part that the samples between pixels reach. */
export const WARP_BORDER = 3;

/** What lies beyond the edges of the picture: white, black, or its outermost pixels again. */
export type Beyond = 'white' | 'black' | 'edge';

/** Part of the input that a part of the output comes from, at least a pixel of it. */
export function warpedFrom(region: Region, place: Projective, input: { width: number; height: number }): Region {
  const from = placeOf(place, region);
  const x = Math.min(input.width - 1, Math.max(0, Math.floor(from.x))),
    y = Math.min(input.height - 1, Math.max(0, Math.floor(from.y)));
  const right = Math.min(input.width, Math.max(x + 1, Math.ceil(from.x + from.width))),
    bottom = Math.min(input.height, Math.max(y + 1, Math.ceil(from.y + from.height)));
  return growRegion({ x, y, width: right - x, height: bottom - y }, 0, 1, input);
}

/**
 * A part of a picture whose pixels lie elsewhere in another: each taken between sixteen of its samples (Keys, 1981, a = -1/2).
 *
 * @param source holds `warpedFrom` and WARP_BORDER round it, as far as the frame goes.
 * @param place where the output's pixels lie in the input.
 */
export function warped(source: Picture, region: Region, place: Projective, output: StreamInfo, beyond: Beyond): Picture {
  const { info } = source;
  const planes = source.planes.map((plane, index) => {
    const [sx, sy] = index ? [1 << info.chromaShiftX, 1 << info.chromaShiftY] : [1, 1];
    // Coarse chroma lies on a raster of its own, the corners of which are the picture's.
    const own = composePlaces(composePlaces(invertPlace(scaling(sx, sy)), place), scaling(sx, sy));
    const ground = beyond === 'edge' ? undefined : index ? NEUTRAL_CHROMA : groundOf(beyond, info);
    const frame = planeRegion(info, index, { x: 0, y: 0, width: info.width, height: info.height });
    const at = (x: number, y: number): Point => pointAt(own, x, y);
    return warpedPlane(plane, {
      own: planeRegion(info, index, source.region),
      frame,
      region: planeRegion(output, index, region),
      at,
      ground,
    });
  });
  return { info: output, region, planes };
}

/**
 * A part of a picture that is bent, so that no lines stay straight; each pixel is taken between sixteen samples, and the size stays.
 * @param at where a place of the result lies in the source, both in pixels.
 */
export function bent(source: Picture, region: Region, at: (x: number, y: number) => Point): Picture {
  const { info } = source;
  const planes = source.planes.map((plane, index) => {
    const [sx, sy] = index ? [1 << info.chromaShiftX, 1 << info.chromaShiftY] : [1, 1];
    const own = (x: number, y: number): Point => {
      const p = at(x * sx, y * sy);
      return { x: p.x / sx, y: p.y / sy };
    };
    const frame = planeRegion(info, index, { x: 0, y: 0, width: info.width, height: info.height });
    return warpedPlane(plane, { own: planeRegion(info, index, source.region), frame, region: planeRegion(info, index, region), at: own });
  });
  return { info, region, planes };
}

function groundOf(beyond: 'white' | 'black', { colour }: StreamInfo): number {
  if (beyond === 'white') return colour.range === 'limited' ? 235 << 8 : 65535;
  return colour.range === 'limited' ? 16 << 8 : 0;
}

/** Steps between two samples for which weights are kept. */
const PHASES = 1024;
const WEIGHTS = Float32Array.from({ length: 4 * (PHASES + 1) }, (_, i) => {
  const t = Math.abs((i >> 2) / PHASES + 1 - (i & 3));
  return t < 1 ? 1.5 * t ** 3 - 2.5 * t ** 2 + 1 : t < 2 ? -0.5 * t ** 3 + 2.5 * t ** 2 - 4 * t + 2 : 0;
});

interface Warping {
  /** Where the plane lies in its frame. */
  own: Region;
  frame: Region;
  /** What is wanted of the result. */
  region: Region;
  /** Where a place of the result lies in the frame. */
  at(x: number, y: number): Point;
  /** What lies beyond the frame; its outermost samples where left out. */
  ground?: number;
}

function warpedPlane(plane: Plane, { own, frame, region, at, ground }: Warping): Plane {
  const out = newPlane(region.width, region.height);
  const { data, width, height } = plane;
  const held = (v: number, extent: number): number => (v < 0 ? 0 : v >= extent ? extent - 1 : v);
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      const p = at(region.x + x + 0.5, region.y + y + 0.5);
      const o = y * region.width + x;
      if (ground !== undefined && (p.x < 0 || p.y < 0 || p.x > frame.width || p.y > frame.height)) {
        out.data[o] = ground;
        continue;
      }
      // A hair's breadth off a sample is that sample.
      const u = p.x - 0.5 - own.x + 1e-6,
        v = p.y - 0.5 - own.y + 1e-6;
      const left = Math.floor(u),
        top = Math.floor(v);
      const px = 4 * Math.floor((u - left) * PHASES + 0.5),
        py = 4 * Math.floor((v - top) * PHASES + 0.5);
      const a = held(left - 1, width),
        b = held(left, width),
        c = held(left + 1, width),
        d = held(left + 2, width);
      let sum = 0;
      for (let k = 0; k < 4; k++) {
        const row = held(top - 1 + k, height) * width;
        sum +=
          WEIGHTS[py + k] *
          (WEIGHTS[px] * data[row + a] +
            WEIGHTS[px + 1] * data[row + b] +
            WEIGHTS[px + 2] * data[row + c] +
            WEIGHTS[px + 3] * data[row + d]);
      }
      out.data[o] = sum <= 0 ? 0 : sum >= 65535 ? 65535 : (sum + 0.5) | 0;
    }
  }
  return out;
}
