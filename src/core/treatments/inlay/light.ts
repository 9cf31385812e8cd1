import { invertPlace, pointAt, type Projective } from '../../../shared/maps/place';
import { smoothed } from '../../faces/smoothed';
import { addBetween, sampleBetween } from '../../picture/between';
import type { LaidPicture } from '../../picture/laid';
import { codesOfColours } from '../../picture/matrix';
import { newPlane, planeRegion, type Picture } from '../../picture/picture';

/** Places a side of the raster on which light is compared, samples a side of each, and how far it is smoothed, in places. */
const SIDE = 24,
  SAMPLES = 5,
  SMOOTH = 2.5;
/** How many times as strong lightness and colours may become. */
const GAINS = { luma: [0.4, 2.5], chroma: [0, 1.25] } as const;

/** For each plane, what its codes are multiplied with, and what is added then, on a raster over the picture that is laid in. */
export interface Light {
  gains: number[];
  added: { width: number; height: number; data: Float32Array }[];
}

/** What is seen at the places of the raster: a plane's means, and how much of each place counts. */
interface Seen {
  here: Float32Array[];
  brought: Float32Array[];
  weights: Float32Array;
}

/**
 * How a picture takes the light that is where it is laid: what changes slowly over it becomes what changes slowly there, and the rest as strong against
 * it as all is there. A ratio of both would do the same in light; codes stand near to its logarithm, so that sums do.
 *
 * @param source holds all that the picture is laid over, as far as the frame goes.
 * @param to from the stream's pixels to those of the picture.
 * @param within whether a point of the picture is laid in, in fractions of it.
 */
export function lightOf(source: Picture, laid: LaidPicture, to: Projective, within: (x: number, y: number) => boolean): Light {
  const { here, brought, weights } = seenAt(source, laid, to, within);
  const even = smoothed(weights, SIDE, SMOOTH);
  const slowOf = (values: Float32Array): Float32Array =>
    smoothed(
      values.map((v, i) => v * weights[i]),
      SIDE,
      SMOOTH,
    ).map((v, i) => v / Math.max(1e-6, even[i]));
  const planes = here.map((values, p) => {
    const [there, own] = [slowOf(values), slowOf(brought[p])];
    return { there, own, fine: power(values, there, weights), ownFine: power(brought[p], own, weights) };
  });
  const [luma, ...chroma] = planes;
  const ratio = (parts: typeof planes, [least, most]: readonly [number, number]): number => {
    const own = parts.reduce((sum, { ownFine }) => sum + ownFine, 0);
    return own > 0 ? Math.min(most, Math.max(least, Math.sqrt(parts.reduce((sum, { fine }) => sum + fine, 0) / own))) : 1;
  };
  const gains = [ratio([luma], GAINS.luma), ...chroma.map(() => ratio(chroma, GAINS.chroma))];
  const added = planes.map(({ there, own }, p) => ({ width: SIDE, height: SIDE, data: there.map((v, i) => v - gains[p] * own[i]) }));
  return { gains, added };
}

function seenAt(source: Picture, laid: LaidPicture, to: Projective, within: (x: number, y: number) => boolean): Seen {
  const { info } = source;
  const back = invertPlace(to);
  const places = SIDE * SIDE;
  const here = source.planes.map(() => new Float32Array(places)),
    brought = source.planes.map(() => new Float32Array(places)),
    weights = new Float32Array(places);
  const rasters = source.planes.map((plane, index) => ({ plane, own: planeRegion(info, index, source.region) }));
  const rgb = new Float64Array(3);
  const codes = codesOfColours(info);
  for (let place = 0; place < places; place++) {
    let count = 0;
    for (let sample = 0; sample < SAMPLES * SAMPLES; sample++) {
      const u = ((place % SIDE) + ((sample % SAMPLES) + 0.5) / SAMPLES) / SIDE,
        v = (Math.floor(place / SIDE) + (Math.floor(sample / SAMPLES) + 0.5) / SAMPLES) / SIDE;
      if (!within(u, v)) continue;
      const at = pointAt(back, u * laid.width, v * laid.height);
      if (at.x < 0 || at.y < 0 || at.x >= info.width || at.y >= info.height) continue;
      count++;
      rgb.fill(0);
      addBetween(laid, u * laid.width - 0.5, v * laid.height - 0.5, rgb);
      const own = codes(rgb);
      rasters.forEach(({ plane, own: { x, y } }, p) => {
        const [sx, sy] = p ? [1 << info.chromaShiftX, 1 << info.chromaShiftY] : [1, 1];
        here[p][place] += sampleBetween(plane, at.x / sx - x - 0.5, at.y / sy - y - 0.5);
        brought[p][place] += own[p];
      });
    }
    weights[place] = count / (SAMPLES * SAMPLES);
    if (count) for (const values of [...here, ...brought]) values[place] /= count;
  }
  return { here, brought, weights };
}

/** How strong what is finer than slow changes is: its mean square. */
function power(values: Float32Array, slow: Float32Array, weights: Float32Array): number {
  return values.reduce((sum, v, i) => sum + weights[i] * (v - slow[i]) ** 2, 0);
}

/** A part of the picture that is laid in, in the light that is there. @param share how far, 0 to 1. @param to as in `lightOf`. */
export function inLight(part: Picture, { gains, added }: Light, laid: LaidPicture, to: Projective, share: number): Picture {
  const { info, region } = part;
  const planes = part.planes.map((plane, p) => {
    const own = planeRegion(info, p, region);
    const [sx, sy] = p ? [1 << info.chromaShiftX, 1 << info.chromaShiftY] : [1, 1];
    const out = newPlane(plane.width, plane.height);
    const [a, b, c, d, e, f, g, h, i] = to;
    for (let y = 0; y < plane.height; y++)
      for (let x = 0; x < plane.width; x++) {
        const px = (own.x + x + 0.5) * sx,
          py = (own.y + y + 0.5) * sy;
        const w = (g * px + h * py + i) / SIDE;
        const v = plane.data[y * plane.width + x];
        const more = sampleBetween(
          added[p],
          (a * px + b * py + c) / (w * laid.width) - 0.5,
          (d * px + e * py + f) / (w * laid.height) - 0.5,
        );
        out.data[y * plane.width + x] = Math.min(65535, Math.max(0, Math.round(v + share * (more + (gains[p] - 1) * v))));
      }
    return out;
  });
  return { info, region, planes };
}
