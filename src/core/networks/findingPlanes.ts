import { extremes } from '../kernels/extremes';
import { SCALE } from '../kernels/fold';
import { NEUTRAL_CHROMA, planeRegion, type Picture, type Region } from '../picture/picture';

/** Planes the network "dirt" sees at half size; `finding_planes` in training/networks.py says the same. */
export const FINDING_CHANNELS = 28;
/** Radii of the openings and closings, thin damage and wide, and of the mean. */
const RADII = [4, 11],
  AROUND = 16;

/**
 * What the network that finds damage sees of a part of a picture: its luma, how far that stands above its openings and below its closings
 * (Serra, Image Analysis and Mathematical Morphology, 1982), and above its mean; chroma, and above its mean.
 *
 * @param part even size, may reach beyond the frame, whose edge repeats.
 */
export function findingPlanes(source: Picture, part: Region): Float32Array {
  const { width, height } = part;
  const quarter = (width * height) / 4;
  const out = new Float32Array(FINDING_CHANNELS * quarter);
  let at = 0;
  const put = (value: (i: number) => number): void => {
    foldOf(value, width, height, out, at);
    at += 4 * quarter;
  };
  const luma = samples(source, 0, part);
  put((i) => 2 * luma[i] - 1);
  for (const radius of RADII) {
    const opened = extremes(extremes(luma, width, height, radius, Math.min), width, height, radius, Math.max);
    put((i) => rooted(luma[i] - opened[i]));
    const closed = extremes(extremes(luma, width, height, radius, Math.max), width, height, radius, Math.min);
    put((i) => rooted(closed[i] - luma[i]));
  }
  const around = means(luma, width, height, AROUND);
  put((i) => rooted(luma[i] - around[i]));
  const colours = [1, 2].map((index) => halved(samples(source, index, part), width, height));
  for (const colour of colours) {
    for (let i = 0; i < quarter; i++) out[at + i] = 4 * (colour[i] - 0.5);
    at += quarter;
  }
  for (const colour of colours) {
    const mean = means(colour, width / 2, height / 2, AROUND / 2);
    for (let i = 0; i < quarter; i++) out[at + i] = rooted(colour[i] - mean[i]);
    at += quarter;
  }
  return out;
}

/** Differences under a signed root, which shows one code beside a hundred. */
const rooted = (v: number): number => Math.sign(v) * Math.sqrt(16 * Math.abs(v));

/** A plane's samples over 1 on the luma's raster. */
function samples(source: Picture, index: number, part: Region): Float32Array {
  const { width, height } = part;
  const plane = source.planes.at(index);
  const out = new Float32Array(width * height);
  if (!plane) return out.fill(NEUTRAL_CHROMA * SCALE);
  const { info } = source;
  const shiftX = index ? info.chromaShiftX : 0,
    shiftY = index ? info.chromaShiftY : 0;
  const origin = planeRegion(info, index, source.region);
  for (let y = 0; y < height; y++) {
    const row = Math.min(plane.height - 1, ((part.y + y) >> shiftY) - origin.y) * plane.width;
    for (let x = 0; x < width; x++) {
      out[y * width + x] = plane.data[row + Math.min(plane.width - 1, ((part.x + x) >> shiftX) - origin.x)] * SCALE;
    }
  }
  return out;
}

function foldOf(value: (i: number) => number, width: number, height: number, out: Float32Array, at: number): void {
  const half = width / 2,
    quarter = (width * height) / 4;
  for (let y = 0; y < height; y++) {
    const row = at + (y & 1) * 2 * quarter + (y >> 1) * half;
    for (let x = 0; x < width; x++) out[row + (x & 1) * quarter + (x >> 1)] = value(y * width + x);
  }
}

function halved(plane: Float32Array, width: number, height: number): Float32Array {
  const w = width / 2;
  const out = new Float32Array((w * height) / 2);
  for (let y = 0; y < height / 2; y++) {
    for (let x = 0; x < w; x++) {
      const i = 2 * y * width + 2 * x;
      out[y * w + x] = (plane[i] + plane[i + 1] + plane[i + width] + plane[i + width + 1]) / 4;
    }
  }
  return out;
}

/** The mean of the square round each sample, edges repeated. */
function means(plane: Float32Array, width: number, height: number, radius: number): Float32Array {
  const once = new Float32Array(width * height),
    out = new Float32Array(width * height);
  const run = (from: Float32Array, to: Float32Array, start: number, step: number, length: number): void => {
    const held = (n: number): number => from[start + Math.min(length - 1, Math.max(0, n)) * step];
    let sum = 0;
    for (let n = -radius; n <= radius; n++) sum += held(n);
    for (let n = 0; n < length; n++) {
      to[start + n * step] = sum / (2 * radius + 1);
      sum += held(n + radius + 1) - held(n - radius);
    }
  };
  for (let y = 0; y < height; y++) run(plane, once, y * width, 1, width);
  for (let x = 0; x < width; x++) run(once, out, x, width, height);
  return out;
}
