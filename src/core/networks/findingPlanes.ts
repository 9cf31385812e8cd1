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
  const put = (plane: Float32Array): void => {
    foldInto(plane, width, height, out, at);
    at += 4 * quarter;
  };
  const luma = samples(source, 0, part);
  put(luma.map((v) => 2 * v - 1));
  for (const radius of RADII) {
    const opened = extremes(extremes(luma, width, height, radius, 'least'), width, height, radius, 'highest');
    put(above(luma, opened));
    const closed = extremes(extremes(luma, width, height, radius, 'highest'), width, height, radius, 'least');
    put(above(closed, luma));
  }
  const around = means(luma, width, height, AROUND);
  put(above(luma, around));
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
const rooted = (v: number): number => (v < 0 ? -Math.sqrt(-16 * v) : Math.sqrt(16 * v));

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
  const columns = new Int32Array(width);
  for (let x = 0; x < width; x++) columns[x] = Math.min(plane.width - 1, ((part.x + x) >> shiftX) - origin.x);
  for (let y = 0; y < height; y++) {
    const row = Math.min(plane.height - 1, ((part.y + y) >> shiftY) - origin.y) * plane.width;
    for (let x = 0; x < width; x++) out[y * width + x] = plane.data[row + columns[x]] * SCALE;
  }
  return out;
}

/** A plane as four of half its size (pixel-unshuffle), from `at` on. */
function foldInto(plane: Float32Array, width: number, height: number, out: Float32Array, at: number): void {
  const half = width / 2,
    quarter = (width * height) / 4;
  for (let y = 0; y < height; y++) {
    const row = at + (y & 1) * 2 * quarter + (y >> 1) * half;
    for (let x = 0, i = y * width; x < half; x++, i += 2) {
      out[row + x] = plane[i];
      out[row + quarter + x] = plane[i + 1];
    }
  }
}

/** How far one plane stands above another, under a signed root. */
function above(plane: Float32Array, other: Float32Array): Float32Array {
  const out = new Float32Array(plane.length);
  for (let i = 0; i < out.length; i++) out[i] = rooted(plane[i] - other[i]);
  return out;
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

/** The mean of the square round each sample, edges repeated, by running sums. */
function means(plane: Float32Array, width: number, height: number, radius: number): Float32Array {
  const once = new Float32Array(width * height),
    out = new Float32Array(width * height);
  const share = 1 / (2 * radius + 1);
  for (let y = 0; y < height; y++) {
    const row = y * width,
      last = width - 1;
    let sum = 0;
    for (let n = -radius; n <= radius; n++) sum += plane[row + Math.min(last, Math.max(0, n))];
    for (let x = 0; x < width; x++) {
      once[row + x] = sum * share;
      sum += plane[row + Math.min(last, x + radius + 1)] - plane[row + Math.max(0, x - radius)];
    }
  }
  const sums = new Float64Array(width);
  const line = (y: number): number => Math.min(height - 1, Math.max(0, y)) * width;
  for (let n = -radius; n <= radius; n++) for (let x = 0, from = line(n); x < width; x++) sums[x] += once[from + x];
  for (let y = 0; y < height; y++) {
    const ahead = line(y + radius + 1),
      behind = line(y - radius);
    for (let x = 0; x < width; x++) {
      out[y * width + x] = sums[x] * share;
      sums[x] += once[ahead + x] - once[behind + x];
    }
  }
  return out;
}
