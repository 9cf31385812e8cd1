import { toRgbMatrix } from '../picture/matrix';
import { NEUTRAL_CHROMA, type Picture, type Region } from '../picture/picture';
import type { Ink } from './inks';
import type { Screen } from './screens';

type Lattice = Pick<Screen, 'period' | 'angle'>;

/** Side of the blocks over which a wave is summed; they lie on a raster that is fixed in the frame. */
const BLOCK = 8;
/** Deviation of the surroundings that say where the waves lie: so many pixels, and at least so many periods. */
const WIDE = { pixels: 24, periods: 3 };
/** Deviations at which the surroundings end. */
const ENDS = 2.5;

/** Blocks to either side that a place's phase depends on. */
const reachOf = (period: number): number => Math.ceil((ENDS * deviationOf(period)) / BLOCK);
const deviationOf = (period: number): number => Math.max(WIDE.pixels, WIDE.periods * period);

/** Pixels round a part that the thresholds of its screens depend on. */
export const phaseBorder = (period: number): number => (reachOf(period) + 2) * BLOCK;

/** Plane of the light in which an ink is dark: red for cyan, green for magenta, blue for yellow, luma for black; up to a factor. */
export function lightOf(ink: Ink, { info, region, planes: [y, cb, cr] }: Picture): { region: Region; data: Float32Array } {
  const data = Float32Array.from(y.data);
  const [blue, red] = { black: [0, 0], cyan: [0, 1], magenta: [1, 1], yellow: [1, 0] }[ink];
  const row = toRgbMatrix(info.colour.matrix)[{ black: 0, cyan: 0, magenta: 1, yellow: 2 }[ink]];
  if (blue + red === 0 || !cb) return { region, data };
  const { chromaShiftX: sx, chromaShiftY: sy } = info;
  for (let j = 0; j < y.height; j++) {
    const line = Math.min(cb.height - 1, ((region.y + j) >> sy) - (region.y >> sy)) * cb.width;
    for (let i = 0; i < y.width; i++) {
      const at = line + Math.min(cb.width - 1, ((region.x + i) >> sx) - (region.x >> sx));
      data[j * y.width + i] += blue * row[1] * (cb.data[at] - NEUTRAL_CHROMA) + red * row[2] * (cr.data[at] - NEUTRAL_CHROMA);
    }
  }
  return { region, data };
}

/**
 * How far an ink must cover to lie at each pixel, 0 to 1: the threshold with which round dots were screened. Where the dots lie is
 * told by the phases of the screen's two waves, demodulated and averaged over the surroundings (as in Takeda, Ina and Kobayashi, 1982),
 * so that a page may be a little bent and the screen's figures a little off.
 *
 * @param light covers `part` and `phaseBorder` round it, as far as the frame goes.
 */
export function thresholdsOf(light: { region: Region; data: Float32Array }, screen: Lattice, part: Region): Float32Array {
  const [across, down] = frequenciesOf(screen).map((frequency) => waveOf(light, frequency, screen.period, part));
  return across.map((v, i) => rankOf((v + down[i]) / 2));
}

/**
 * How far the light of each pixel swings with the screen's waves, in codes of 255, as a mean over its surroundings: nought where nothing is printed.
 *
 * @param light covers `part` and `phaseBorder` round it, as far as the frame goes.
 */
export function swingsOf(light: { region: Region; data: Float32Array }, screen: Lattice, part: Region): Float32Array {
  const out = new Float32Array(part.width * part.height);
  for (const frequency of frequenciesOf(screen)) {
    const { real, imaginary, weight, width, first } = demodulated(light, frequency, screen.period, part);
    const size = real.map((v, i) => (weight[i] > 0 ? Math.hypot(v, imaginary[i]) / weight[i] / 257 : 0));
    atPixels(part, first, width, (i, at, fx, fy) => (out[i] += between(size, at, width, fx, fy)));
  }
  return out;
}

interface Frequency {
  /** Radians from pixel to pixel, sideways and downwards. */
  x: number;
  y: number;
}

/** The two waves of a screen. */
function frequenciesOf({ period, angle }: Lattice): Frequency[] {
  const turn = (angle * Math.PI) / 180,
    step = (2 * Math.PI) / period;
  return [
    { x: step * Math.cos(turn), y: step * Math.sin(turn) },
    { x: -step * Math.sin(turn), y: step * Math.cos(turn) },
  ];
}

/** The height of a wave at each pixel of a part, -1 to 1. */
function waveOf(light: { region: Region; data: Float32Array }, frequency: Frequency, period: number, part: Region): Float32Array {
  const { real, imaginary, width, first } = demodulated(light, frequency, period, part);
  const out = new Float32Array(part.width * part.height);
  const [cosines, sines] = turns(frequency.x, part.x, part.width),
    [cosinesDown, sinesDown] = turns(frequency.y, part.y, part.height);
  atPixels(part, first, width, (i, at, fx, fy) => {
    const a = between(real, at, width, fx, fy),
      b = between(imaginary, at, width, fx, fy);
    const size = Math.hypot(a, b);
    const x = i % part.width,
      y = (i - x) / part.width;
    const cos = cosines[x] * cosinesDown[y] - sines[x] * sinesDown[y],
      sin = cosines[x] * sinesDown[y] + sines[x] * cosinesDown[y];
    out[i] = size > 0 ? (cos * a - sin * b) / size : 0;
  });
  return out;
}

/** A wave as blocks have it in the mean of their surroundings, and how many pixels that is of; block by block from the one at `first`. */
function demodulated(light: { region: Region; data: Float32Array }, frequency: Frequency, period: number, part: Region) {
  const reach = reachOf(period);
  // Places lie between the middles of blocks, one of which may be beyond the part.
  const first = { x: Math.floor((part.x - BLOCK / 2) / BLOCK), y: Math.floor((part.y - BLOCK / 2) / BLOCK) };
  const count = (from: number, to: number): number => Math.floor((to - BLOCK / 2) / BLOCK) + 2 - from;
  const width = count(first.x, part.x + part.width - 1),
    height = count(first.y, part.y + part.height - 1);
  const sums = blockSums(light, frequency, {
    x: first.x - reach,
    y: first.y - reach,
    width: width + 2 * reach,
    height: height + 2 * reach,
  });
  const [real, imaginary, weight] = [sums.real, sums.imaginary, sums.weight].map((data) =>
    spread(data, width, height, reach, deviationOf(period) / BLOCK),
  );
  return { real, imaginary, weight, width, first };
}

/** Tells of each pixel of a part which block lies before it, and how far beyond the middle of that it lies. */
function atPixels(
  part: Region,
  first: { x: number; y: number },
  width: number,
  tell: (i: number, block: number, fx: number, fy: number) => void,
): void {
  for (let y = 0, i = 0; y < part.height; y++) {
    const row = (part.y + y + 0.5) / BLOCK - 0.5 - first.y,
      top = Math.floor(row) * width;
    for (let x = 0; x < part.width; x++, i++) {
      const column = (part.x + x + 0.5) / BLOCK - 0.5 - first.x,
        left = Math.floor(column);
      tell(i, top + left, column - left, row - Math.floor(row));
    }
  }
}

const between = (data: Float64Array, i: number, width: number, fx: number, fy: number): number =>
  (data[i] * (1 - fx) + data[i + 1] * fx) * (1 - fy) + (data[i + width] * (1 - fx) + data[i + width + 1] * fx) * fy;

/** Cosines and sines of a wave at the middles of a row of pixels. */
function turns(frequency: number, from: number, count: number): [Float64Array, Float64Array] {
  const cosines = new Float64Array(count),
    sines = new Float64Array(count);
  for (let n = 0; n < count; n++) {
    cosines[n] = Math.cos(frequency * (from + n + 0.5));
    sines[n] = Math.sin(frequency * (from + n + 0.5));
  }
  return [cosines, sines];
}

/** Sums of the light times the wave turned backwards, of a region of blocks; what lies beyond the light counts nothing. */
function blockSums({ region, data }: { region: Region; data: Float32Array }, frequency: Frequency, blocks: Region) {
  const [real, imaginary, weight] = [0, 1, 2].map(() => new Float64Array(blocks.width * blocks.height));
  const [cosines, sines] = turns(frequency.x, region.x, region.width);
  const held = (v: number, from: number, length: number): number => Math.min(from + length, Math.max(from, v));
  for (let by = 0; by < blocks.height; by++) {
    const top = held((blocks.y + by) * BLOCK, region.y, region.height),
      bottom = held((blocks.y + by + 1) * BLOCK, region.y, region.height);
    for (let y = top; y < bottom; y++) {
      const cy = Math.cos(frequency.y * (y + 0.5)),
        sy = Math.sin(frequency.y * (y + 0.5));
      const line = (y - region.y) * region.width - region.x;
      for (let bx = 0; bx < blocks.width; bx++) {
        const left = held((blocks.x + bx) * BLOCK, region.x, region.width),
          right = held((blocks.x + bx + 1) * BLOCK, region.x, region.width);
        let a = 0,
          b = 0;
        for (let x = left; x < right; x++) {
          a += data[line + x] * cosines[x - region.x];
          b += data[line + x] * sines[x - region.x];
        }
        real[by * blocks.width + bx] += a * cy - b * sy;
        imaginary[by * blocks.width + bx] -= a * sy + b * cy;
        weight[by * blocks.width + bx] += right - left;
      }
    }
  }
  return { real, imaginary, weight };
}

/** A raster of blocks blurred; the result is smaller by `reach` on every side. */
function spread(data: Float64Array, width: number, height: number, reach: number, deviation: number): Float64Array {
  const taps = Float64Array.from({ length: 2 * reach + 1 }, (_, n) => Math.exp(-0.5 * ((n - reach) / deviation) ** 2));
  const wide = width + 2 * reach;
  const rows = new Float64Array(width * (height + 2 * reach));
  for (let y = 0; y < height + 2 * reach; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let n = 0; n < taps.length; n++) sum += taps[n] * data[y * wide + x + n];
      rows[y * width + x] = sum;
    }
  }
  const out = new Float64Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let n = 0; n < taps.length; n++) sum += taps[n] * rows[(y + n) * width + x];
      out[y * width + x] = sum;
    }
  }
  return out;
}

/** Steps of the table of ranks. */
const STEPS = 1024;
let ranks: Float32Array | undefined;

/** Share of a cell where the mean of its two waves is lower than `height`, -1 to 1. */
function rankOf(height: number): number {
  ranks ??= ranksOf();
  const at = Math.min(STEPS - 1e-6, Math.max(0, ((height + 1) / 2) * STEPS));
  const i = Math.floor(at);
  return ranks[i] + (ranks[i + 1] - ranks[i]) * (at - i);
}

function ranksOf(): Float32Array {
  const waves = Float64Array.from({ length: 1000 }, (_, n) => Math.cos((2 * Math.PI * (n + 0.5)) / 1000));
  const counts = new Float64Array(STEPS + 1);
  for (const a of waves) for (const b of waves) counts[Math.min(STEPS, Math.ceil(((a + b + 2) / 4) * STEPS))]++;
  const table = new Float32Array(STEPS + 1);
  let sum = 0;
  for (let i = 0; i <= STEPS; i++) table[i] = (sum += counts[i]) / waves.length ** 2;
  return table;
}
