import { transform, transformBack } from '../fourier';
import { extremes } from '../kernels/extremes';
import { denoiseLuma } from '../networks/denoise';
import { newPlane, type Plane, type Region } from '../picture/picture';
import { spreadReach, spreadSamples, type Spread } from './spread';

/** Side of the squares that are worked at once, and the border round the cell in each: a raster that is fixed in the frame. */
const SIDE = 512,
  BORDER = 96;
const CELL = SIDE - 2 * BORDER;
/** Pixels round a part that its result may depend on. */
export const DECONVOLVE_BORDER = CELL + BORDER;
/** Pixels at the squares' borders that run out into their mean, so that opposite borders meet. */
const TAPER = 40;
/** Noise, in codes of 255, that is taken away after each step back: much first, little last. */
const STEPS = [14, 7.5, 4];
/** How much a step holds to what the network gave. */
const HOLD = 0.6;
/** Regularisation of the plain way back, and of the first one. */
const PLAIN = 0.012,
  FIRST = 0.01;
/** Codes of 255 that count as noise at the least. */
const LEAST_NOISE = 0.8;
/** Share of the range round a sample that the result may leave it by: fine lines were brighter before they were spread; the plain way back only rings. */
const SLACK = { network: 1, plain: 0.1 };

export interface Deconvolution {
  spread: Spread;
  /** Deviation of the picture's noise in codes of 255. */
  noise: number;
  /** Share of the change that is applied, 0 to 1. */
  strength: number;
  /** Whether the network tells noise from picture between the steps. */
  network: boolean;
}

/**
 * A part of a plane with a known spread undone: half-quadratic splitting (Geman and Yang, 1995), of which one half is the way back in the
 * spectrum, the other a network of ours that takes noise away (after Zhang et al., Learning Deep CNN Denoiser Prior, 2017). Without the
 * network, Wiener's filter. The result is held to the range that the blurred plane has round each sample, widened a little, so that outlines are bounded.
 *
 * @param own where the plane lies in the frame; it covers DECONVOLVE_BORDER pixels round `region`, as far as the frame goes.
 * @throws NetworkError when the network cannot be used.
 */
export async function deconvolve(plane: Plane, own: { x: number; y: number }, region: Region, how: Deconvolution): Promise<Plane> {
  const made = newPlane(region.width, region.height);
  const transfer = transferOf(how.spread);
  for (let top = Math.floor(region.y / CELL) * CELL; top < region.y + region.height; top += CELL) {
    for (let left = Math.floor(region.x / CELL) * CELL; left < region.x + region.width; left += CELL) {
      const square = squareOf(plane, own, left - BORDER, top - BORDER);
      const sharp = bounded(
        await sharpened(square, transfer, how),
        square,
        spreadReach(how.spread),
        how.network ? SLACK.network : SLACK.plain,
      );
      for (let y = Math.max(top, region.y); y < Math.min(top + CELL, region.y + region.height); y++) {
        for (let x = Math.max(left, region.x); x < Math.min(left + CELL, region.x + region.width); x++) {
          const i = (y - top + BORDER) * SIDE + x - left + BORDER;
          const v = 65535 * (square[i] + how.strength * (sharp[i] - square[i]));
          made.data[(y - region.y) * region.width + x - region.x] = Math.min(65535, Math.max(0, Math.round(v)));
        }
      }
    }
  }
  return made;
}

interface Transfer {
  real: Float64Array;
  imaginary: Float64Array;
  /** Squared magnitude. */
  power: Float64Array;
}

/** What a spread does to each frequency. */
function transferOf(spread: Spread): Transfer {
  const { reach, samples } = spreadSamples(spread);
  const side = 2 * reach + 1;
  const real = new Float64Array(SIDE * SIDE),
    imaginary = new Float64Array(SIDE * SIDE);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) real[((y - reach + SIDE) % SIDE) * SIDE + ((x - reach + SIDE) % SIDE)] = samples[y * side + x];
  }
  transform(real, imaginary, SIDE);
  return { real, imaginary, power: real.map((r, i) => r * r + imaginary[i] * imaginary[i]) };
}

/** A square of the frame over 1; beyond the plane it is mirrored. */
function squareOf(plane: Plane, own: { x: number; y: number }, left: number, top: number): Float32Array {
  const mirrored = (v: number, extent: number): number => {
    const period = Math.max(1, 2 * extent - 2);
    const at = ((v % period) + period) % period;
    return at < extent ? at : period - at;
  };
  const out = new Float32Array(SIDE * SIDE);
  for (let y = 0; y < SIDE; y++) {
    const row = mirrored(top + y - own.y, plane.height) * plane.width;
    for (let x = 0; x < SIDE; x++) out[y * SIDE + x] = plane.data[row + mirrored(left + x - own.x, plane.width)] / 65535;
  }
  return out;
}

async function sharpened(square: Float32Array, transfer: Transfer, { noise, network }: Deconvolution): Promise<Float32Array> {
  const real = tapered(square),
    imaginary = new Float64Array(SIDE * SIDE);
  transform(real, imaginary, SIDE);
  // The spectrum of the square times the transfer's conjugate.
  const back = { real: new Float64Array(real.length), imaginary: new Float64Array(real.length) };
  for (let i = 0; i < real.length; i++) {
    back.real[i] = real[i] * transfer.real[i] + imaginary[i] * transfer.imaginary[i];
    back.imaginary[i] = imaginary[i] * transfer.real[i] - real[i] * transfer.imaginary[i];
  }
  if (!network) return solved(back, transfer.power, Math.max(PLAIN, (Math.max(noise, LEAST_NOISE) / 255) ** 2 * 40));
  let made = solved(back, transfer.power, FIRST);
  for (const step of STEPS) {
    const smooth = await denoiseLuma(made, SIDE, SIDE, step);
    made = solved(back, transfer.power, HOLD * (Math.max(noise, LEAST_NOISE) / step) ** 2, smooth);
  }
  return made;
}

/** The picture that both the blurred one and, as far as `weight` says, a given one agree with. */
function solved(back: Omit<Transfer, 'power'>, power: Float64Array, weight: number, given?: Float32Array): Float32Array {
  const real = new Float64Array(power.length),
    imaginary = new Float64Array(power.length);
  if (given) {
    real.set(given);
    transform(real, imaginary, SIDE);
  }
  for (let i = 0; i < power.length; i++) {
    const share = 1 / (power[i] + weight);
    real[i] = (back.real[i] + weight * real[i]) * share;
    imaginary[i] = (back.imaginary[i] + weight * imaginary[i]) * share;
  }
  // What carries the mean is not damped.
  if (!given) {
    real[0] = back.real[0];
    imaginary[0] = back.imaginary[0];
  }
  transformBack(real, imaginary, SIDE);
  return new Float32Array(real);
}

function tapered(square: Float32Array): Float64Array {
  const mean = square.reduce((sum, v) => sum + v, 0) / square.length;
  const edge = Float64Array.from({ length: SIDE }, (_, i) => Math.min(1, Math.min(i, SIDE - 1 - i) / TAPER));
  return new Float64Array(square).map((v, i) => mean + (v - mean) * edge[i % SIDE] * edge[Math.floor(i / SIDE)]);
}

/** Held within the range that the blurred plane has as far as its spread reaches, widened by a share of it. */
function bounded(sharp: Float32Array, square: Float32Array, reach: number, share: number): Float32Array {
  const low = extremes(square, SIDE, SIDE, reach, 'least'),
    high = extremes(square, SIDE, SIDE, reach, 'highest');
  return sharp.map((v, i) => {
    const slack = share * (high[i] - low[i]) + 1 / 255;
    return Math.min(high[i] + slack, Math.max(low[i] - slack, v));
  });
}
