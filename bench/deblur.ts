import { readdirSync } from 'node:fs';
import path from 'node:path';
import { deconvolve } from '../src/core/focus/deconvolve';
import { spreadSamples, type Spread } from '../src/core/focus/spread';
import { transform, transformBack } from '../src/core/fourier';
import { psnr } from '../src/core/metrics/metrics';
import { cutPlane, newPlane, type Plane } from '../src/core/picture/picture';
import { normalStream } from '../src/core/picture/random';
import { PEAK } from './held';
import { FOLDER, readPicture } from './prints';
import type { Row } from './table';

const NOISE = 2;
/** Side of the parts that are blurred: with a mirrored border they fill Wiener's square. */
const SIDE = 320,
  SQUARE = 512,
  EDGE = 24;

const SPREADS: { name: string; spread: Spread }[] = [
  { name: 'Gaussian 1.5 px', spread: { kind: 'softness', blur: 1.5 } },
  { name: 'motion 7 px, level', spread: { kind: 'motion', length: 7, angle: 0 } },
  { name: 'motion 7 px at 30°', spread: { kind: 'motion', length: 7, angle: 30 } },
  { name: 'defocus, radius 2.5 px', spread: { kind: 'defocus', radius: 2.5 } },
];

const mirrored = (v: number): number => (v < 0 ? -v : v >= SIDE ? 2 * SIDE - 2 - v : v);

function blurred(plane: Plane, spread: Spread, seed: number): Plane {
  const { reach, samples } = spreadSamples(spread);
  const normal = normalStream(seed);
  const out = newPlane(SIDE, SIDE);
  for (let y = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++) {
      let sum = 0;
      for (let j = -reach; j <= reach; j++) {
        for (let i = -reach; i <= reach; i++) {
          sum += samples[(j + reach) * (2 * reach + 1) + i + reach] * plane.data[mirrored(y - j) * SIDE + mirrored(x - i)];
        }
      }
      out.data[y * SIDE + x] = Math.min(65280, Math.max(0, Math.round(sum + NOISE * 256 * normal())));
    }
  }
  return out;
}

/** Wiener's filter at the regularisation that comes nearest to the truth. */
function wienerAtItsBest(plane: Plane, spread: Spread, truth: Plane): { plane: Plane; psnr: number } {
  const border = (SQUARE - SIDE) / 2;
  const { reach, samples } = spreadSamples(spread);
  const raster = (): Float64Array => new Float64Array(SQUARE * SQUARE);
  const [real, imaginary, hr, hi] = [raster(), raster(), raster(), raster()];
  for (let y = 0; y < SQUARE; y++) {
    for (let x = 0; x < SQUARE; x++) real[y * SQUARE + x] = plane.data[mirrored(y - border) * SIDE + mirrored(x - border)];
  }
  samples.forEach((v, i) => {
    const x = (i % (2 * reach + 1)) - reach,
      y = Math.floor(i / (2 * reach + 1)) - reach;
    hr[((y + SQUARE) % SQUARE) * SQUARE + ((x + SQUARE) % SQUARE)] = v;
  });
  transform(real, imaginary, SQUARE);
  transform(hr, hi, SQUARE);
  let best = { plane, psnr: -Infinity };
  for (let exponent = -4; exponent < -1; exponent += 0.25) {
    const [r, m] = [raster(), raster()];
    for (let i = 0; i < r.length; i++) {
      const share = 1 / (hr[i] ** 2 + hi[i] ** 2 + 10 ** exponent);
      r[i] = (real[i] * hr[i] + imaginary[i] * hi[i]) * share;
      m[i] = (imaginary[i] * hr[i] - real[i] * hi[i]) * share;
    }
    transformBack(r, m, SQUARE);
    const made = newPlane(SIDE, SIDE);
    made.data.forEach((_, i) => {
      const at = (Math.floor(i / SIDE) + border) * SQUARE + (i % SIDE) + border;
      made.data[i] = Math.min(65280, Math.max(0, Math.round(r[at])));
    });
    const near = psnr(made, truth, PEAK, EDGE);
    if (near > best.psnr) best = { plane: made, psnr: near };
  }
  return best;
}

/** Codes of 255 a step has that counts as a strong edge, and the pixels off it where outlines lie. */
const STRONG = 40,
  NEAR = 2,
  FAR = 6;

/** Energy of second differences beside strong edges of the truth, where halos lie and nothing of the edges themselves does. */
function haloEnergy(plane: Plane, truth: Plane): number {
  const at = (p: Plane, x: number, y: number): number => p.data[y * SIDE + x] / 256;
  const edge = new Uint8Array(SIDE * SIDE);
  for (let y = 1; y < SIDE - 1; y++) {
    for (let x = 1; x < SIDE - 1; x++) {
      const step = Math.max(Math.abs(at(truth, x + 1, y) - at(truth, x - 1, y)), Math.abs(at(truth, x, y + 1) - at(truth, x, y - 1)));
      edge[y * SIDE + x] = step > STRONG ? 1 : 0;
    }
  }
  let sum = 0,
    count = 0;
  for (let y = EDGE; y < SIDE - EDGE; y++) {
    for (let x = EDGE; x < SIDE - EDGE; x++) {
      let nearest = Infinity;
      for (let j = -FAR; j <= FAR; j++)
        for (let i = -FAR; i <= FAR; i++) if (edge[(y + j) * SIDE + x + i]) nearest = Math.min(nearest, Math.hypot(i, j));
      if (nearest <= NEAR || nearest > FAR) continue;
      const bend = (dx: number, dy: number): number => 2 * at(plane, x, y) - at(plane, x - dx, y - dy) - at(plane, x + dx, y + dy);
      sum += bend(2, 0) ** 2 + bend(0, 2) ** 2;
      count++;
    }
  }
  return sum / Math.max(1, count);
}

/** Known spreads undone at a noise of 2, against Wiener's filter at its best. */
export async function deblurring(): Promise<Row[]> {
  const folder = path.join(FOLDER, 'held');
  const truths: Plane[] = [];
  for (const file of readdirSync(folder)
    .filter((f) => f.startsWith('photograph'))
    .sort()) {
    const { planes } = await readPicture(path.join(folder, file));
    if (Math.min(planes[0].width, planes[0].height) >= SIDE)
      truths.push(cutPlane(planes[0], (planes[0].width - SIDE) >> 1, (planes[0].height - SIDE) >> 1, SIDE, SIDE));
  }
  const whole = { x: 0, y: 0, width: SIDE, height: SIDE };
  const rows: Row[] = [];
  for (const { name, spread } of SPREADS) {
    const group = "Prints: known spreads undone at noise 2, over Wiener's filter at its best";
    const gains = { fast: [] as number[], best: [] as number[] },
      halos = { fast: [] as number[], best: [] as number[] };
    for (const [n, truth] of truths.entries()) {
      const soft = blurred(truth, spread, 100 + n);
      const base = wienerAtItsBest(soft, spread, truth);
      const own = haloEnergy(truth, truth);
      for (const quality of ['fast', 'best'] as const) {
        const made = await deconvolve(soft, whole, whole, { spread, noise: NOISE, strength: 1, network: quality === 'best' });
        gains[quality].push(psnr(made, truth, PEAK, EDGE) - base.psnr);
        halos[quality].push(haloEnergy(made, truth) / own);
      }
    }
    const mean = (v: number[]): number => v.reduce((sum, x) => sum + x, 0) / v.length;
    for (const quality of ['fast', 'best'] as const) {
      const gain = mean(gains[quality]),
        halo = mean(halos[quality]);
      rows.push({
        group,
        what: `${name}: ${quality}, dB`,
        shown: `${gain >= 0 ? '+' : ''}${gain.toFixed(2)} (worst ${Math.min(...gains[quality]).toFixed(2)})`,
        value: gain,
        ...(quality === 'best' && { atLeast: 1.5 }),
      });
      rows.push({
        group,
        what: `${name}: ${quality}, halo energy against the truth's`,
        shown: `${halo.toFixed(2)} (worst ${Math.max(...halos[quality]).toFixed(2)})`,
        value: halo,
        ...(quality === 'best' && { atMost: 1 }),
      });
    }
  }
  return rows;
}
