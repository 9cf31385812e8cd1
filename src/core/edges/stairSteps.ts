import { gaussianFilter } from '../kernels/blur';
import { kernels } from '../kernels/wasm';
import { sampleBetween } from '../picture/between';
import { newPlane, type Plane, type Region } from '../picture/picture';

/** Pixels round a part that its result depends on, for steps of a size. */
export const stairBorder = (size: number): number => Math.ceil(10 * size) + 4;

/** Deviations, in sizes of a step, of the blur under which edges show their way, and over which it is averaged. */
const SEEN = 0.8,
  AGREED = 1.6;
/** How far along an edge is averaged, in sizes of a step. */
const ALONG = 1.8;
/** Gradient, in codes of 255 a pixel, from which an edge is smoothed, and from which wholly. */
const EDGE = { from: 2, all: 6 };

/**
 * Jagged edges made smooth: along their way, as it is seen from a little further off (structure tensor, Forstner and Gulch, 1987), samples are
 * averaged (line integral, Cabral and Leedom, 1993). Across edges, in corners and in texture nothing changes.
 *
 * @param own where the plane lies in the frame; it covers `stairBorder` pixels round `region`, as far as the frame goes.
 * @param size of a step in pixels.
 * @param strength share of the change that is applied, 0 to 1.
 */
export function withoutStairSteps(plane: Plane, own: { x: number; y: number }, region: Region, size: number, strength: number): Plane {
  const { width, height } = plane;
  const luma = new Float32Array(plane.data).map((v) => v / 256);
  const raster = { width, height, data: luma };
  const [xx, xy, yy] = tensorOf(luma, width, height, size);
  const reach = Math.ceil(2 * ALONG * size);
  const weights = Float32Array.from({ length: reach + 1 }, (_, n) => Math.exp(-0.5 * (n / (ALONG * size)) ** 2));
  const made = newPlane(region.width, region.height);
  for (let y = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++) {
      const px = region.x + x - own.x,
        py = region.y + y - own.y,
        i = py * width + px;
      const apart = Math.hypot(xx[i] - yy[i], 2 * xy[i]),
        both = xx[i] + yy[i];
      const gradient = Math.sqrt(Math.max(0, (both + apart) / 2));
      const sure = both > 0 ? (apart / both) ** 2 : 0;
      const share = strength * sure * Math.min(1, Math.max(0, (gradient - EDGE.from) / (EDGE.all - EDGE.from)));
      let value = luma[i];
      if (share > 0.01) {
        // Along the edge: across its gradient.
        const turn = 0.5 * Math.atan2(2 * xy[i], xx[i] - yy[i]) + Math.PI / 2;
        const dx = Math.cos(turn),
          dy = Math.sin(turn);
        let sum = luma[i],
          total = 1;
        for (let n = 1; n <= reach; n++) {
          const both2 = sampleBetween(raster, px + n * dx, py + n * dy) + sampleBetween(raster, px - n * dx, py - n * dy);
          sum += weights[n] * both2;
          total += 2 * weights[n];
        }
        value += share * (sum / total - value);
      }
      made.data[y * region.width + x] = Math.min(65535, Math.max(0, Math.round(256 * value)));
    }
  }
  return made;
}

/** Products of the gradients of the plane as it is seen from further off, averaged. */
function tensorOf(luma: Float32Array, width: number, height: number, size: number): Float32Array[] {
  const soft = gaussian([luma], width, height, SEEN * size)[0];
  const products = [0, 1, 2].map(() => new Float32Array(width * height));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const gx = (soft[i + (x < width - 1 ? 1 : 0)] - soft[i - (x > 0 ? 1 : 0)]) / 2,
        gy = (soft[i + (y < height - 1 ? width : 0)] - soft[i - (y > 0 ? width : 0)]) / 2;
      products[0][i] = gx * gx;
      products[1][i] = gx * gy;
      products[2][i] = gy * gy;
    }
  }
  return gaussian(products, width, height, AGREED * size);
}

function gaussian(planes: Float32Array[], width: number, height: number, sigma: number): Float32Array[] {
  const { arena } = kernels();
  const samples = width * height;
  return arena.scope(() => {
    const [between, soft] = [0, 1].map(() => arena.reserve(4 * samples + 16));
    const blur = gaussianFilter(width, height, sigma);
    return planes.map((plane) =>
      arena.scope(() => {
        blur(arena.putFloats(plane), between, soft);
        return arena.takeFloats(soft, samples);
      }),
    );
  });
}
