import { SCALE } from '../kernels/fold';
import { newPlane, type Plane } from '../picture/picture';
import { network } from './model';
import { UNITS } from './steering';

/** A figure and how far it may be off. */
export interface Doubted {
  value: number;
  /** Scale of a Laplace distribution over octaves of 1 + value: two readings out of three lie within it. */
  doubt: number;
}

/** What is to be read in a plane. */
export interface PlaneReading {
  /** Deviation of the grain in codes of 255. */
  grain: Doubted;
  /** Radius of a grain in the plane's pixels; means little without grain. */
  size: number;
  /** Quantiser step, see `Steering`. */
  step: Doubted;
}

/** Side of the parts that are read, and the least that says anything. */
const SIDE = 64,
  LEAST_SIDE = 32;
/** Parts are cut at multiples of this, so that a codec's grid lies alike in all. */
const GRID = 8;
/** Parts of one picture that are read together: grain is alike in all of them, texture is not. Rows and columns, the most first. */
const SHEETS: [rows: number, columns: number][] = [
  [2, 3],
  [2, 2],
  [1, 2],
  [1, 1],
];
/** Candidates a part, of which the plainer ones are read beside evenly spread ones. */
const CANDIDATES = 5;
/** Codes of 255 near which noise is cut off, and the share of a part that may lie there. */
const BLACK = 3,
  WHITE = 252,
  CUT_OFF = 0.25;
/** Distances at which samples are compared, and planes the network sees. */
const APART = [1, 2, 3],
  CHANNELS = 4 + 4 * APART.length;
/** Most that a reading says, as much as the treatments take. */
const LIMITS = { grain: 60, size: 1.6, step: 64 };
/** How much more doubt than it learned: pictures of other origins than its own are a little further off (`./run bench sure`). */
const CAREFUL = 1.12;
/** Nothing at all is known. */
const UNKNOWN: Doubted = { value: 0, doubt: 4 };

interface Part {
  plane: Plane;
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * Reads the damage of planes of one kind, such as the luma of a few frames, with a network of ours that was taught to tell
 * grain and coding from texture, and to say how sure it is.
 *
 * @param planes of one size and kind; fields of interlaced frames one by one.
 * @param count parts that are read in all.
 * @throws NetworkError when the network cannot be used.
 */
export async function readDamage(planes: Plane[], count: number): Promise<PlaneReading> {
  const sheets = planes.flatMap((plane) => sheetsOf(chosenParts(plane, Math.max(6, Math.round(count / planes.length)))));
  if (sheets.length === 0) return { grain: UNKNOWN, size: 0, step: UNKNOWN };
  const net = await network('condition');
  const rows: Float32Array[] = [];
  for (const sheet of sheets) rows.push(await net.run(readingPlanes(sheet), CHANNELS, sheet.height / 2, sheet.width / 2));
  const grain = joined(rows, 0),
    size = joined(rows, 1);
  return {
    grain: plain(grain, LIMITS.grain),
    size: Math.min(LIMITS.size, Math.max(0, size.value) * UNITS.grainSize),
    step: plain(joined(rows, 2), LIMITS.step),
  };
}

/** Parts over the whole plane: half of them evenly spread, half the plainest of many. */
function chosenParts(plane: Plane, count: number): Part[] {
  const width = even(Math.min(SIDE, plane.width)),
    height = even(Math.min(SIDE, plane.height));
  if (width < LEAST_SIDE || height < LEAST_SIDE) return [];
  const many = CANDIDATES * count;
  const columns = Math.max(1, Math.round(Math.sqrt((many * plane.width) / plane.height))),
    rows = Math.max(1, Math.ceil(many / columns));
  // Parts may lie half over one another; nearer ones tell the same once more.
  const across = Math.min(columns, Math.ceil((2 * plane.width) / width) - 1),
    down = Math.min(rows, Math.ceil((2 * plane.height) / height) - 1);
  const at = (n: number, of: number, room: number): number =>
    of === 1 ? Math.floor(room / 2 / GRID) * GRID : Math.floor((room * n) / (of - 1) / GRID) * GRID;
  const judged = Array.from({ length: across * down }, (_, i) => {
    const part = {
      plane,
      x: at(i % across, across, plane.width - width),
      y: at(Math.floor(i / across), down, plane.height - height),
      width,
      height,
    };
    return { part, ...lookAt(part) };
  });
  const usable = judged.filter((j) => j.cutOff < CUT_OFF);
  // Drawings on white paper are all white: then they are read as they are.
  const from = usable.length ? usable : judged;
  const plainest = [...from].sort((a, b) => a.spread - b.spread).slice(0, Math.ceil(count / 2));
  const rest = from.filter((j) => !plainest.includes(j));
  const stride = Math.max(1, rest.length / Math.max(1, count - plainest.length));
  const evenly = rest.filter((_, i) => Math.floor(i / stride) !== Math.floor((i - 1) / stride)).slice(0, count - plainest.length);
  // Plain and other parts in turn, so that each sheet has of both.
  return plainest.flatMap((j, i) => (i < evenly.length ? [j.part, evenly[i].part] : [j.part]));
}

/** Parts laid beside each other, a few to a sheet. */
function sheetsOf(parts: Part[]): Plane[] {
  const sheets: Plane[] = [];
  for (let taken = 0; taken < parts.length;) {
    const [rows, columns] = SHEETS.find(([r, c]) => r * c <= parts.length - taken) as [number, number];
    // What is left over of a picture that filled a sheet says little more.
    if (taken > 0 && rows * columns < 4) break;
    const { width, height } = parts[taken];
    const sheet = newPlane(columns * width, rows * height);
    parts.slice(taken, taken + rows * columns).forEach(({ plane, x, y }, n) => {
      const at = Math.floor(n / columns) * height * sheet.width + (n % columns) * width;
      for (let line = 0; line < height; line++) {
        const row = (y + line) * plane.width + x;
        sheet.data.set(plane.data.subarray(row, row + width), at + line * sheet.width);
      }
    });
    sheets.push(sheet);
    taken += rows * columns;
  }
  return sheets;
}

const even = (v: number): number => v & ~1;

/** How much a part varies, from every other pixel of every other line, and how much of it noise cannot show in. */
function lookAt({ plane, x, y, width, height }: Part): { spread: number; cutOff: number } {
  let sum = 0,
    cut = 0,
    n = 0;
  for (let j = 0; j + 2 < height; j += 2) {
    const row = (y + j) * plane.width + x;
    for (let i = 0; i + 2 < width; i += 2) {
      const v = plane.data[row + i];
      sum += Math.abs(v - plane.data[row + i + 2]) + Math.abs(v - plane.data[row + i + 2 * plane.width]);
      const code = v >> 8;
      if (code < BLACK || code > WHITE) cut++;
      n++;
    }
  }
  return { spread: sum / n, cutOff: cut / n };
}

/**
 * What the network sees, as `reading_planes` of training/networks.py: folded samples, and signed roots of differences from the four
 * samples one, two and three away.
 */
export function readingPlanes({ width, height, data }: Plane): Float32Array {
  const w = width >> 1,
    size = w * (height >> 1);
  const out = new Float32Array(CHANNELS * size);
  for (let j = 0; j < height; j++) {
    for (let i = 0; i < width; i++) {
      const v = data[j * width + i];
      const at = (2 * (j & 1) + (i & 1)) * size + (j >> 1) * w + (i >> 1);
      out[at] = 2 * v * SCALE - 1;
      for (const [n, d] of APART.entries()) {
        const up = data[Math.max(0, j - d) * width + i],
          down = data[Math.min(height - 1, j + d) * width + i],
          left = data[j * width + Math.max(0, i - d)],
          right = data[j * width + Math.min(width - 1, i + d)];
        const apart = (v - (up + down + left + right) / 4) * SCALE;
        out[at + 4 * (n + 1) * size] = Math.sign(apart) * Math.sqrt(Math.abs(apart) * 16);
      }
    }
  }
  return out;
}

/** One figure of several sheets, each with the weight of its sureness; where sure ones disagree, the doubt is theirs. */
function joined(rows: Float32Array[], figure: number): Doubted {
  const means = rows.map((r) => r[figure]),
    scales = rows.map((r) => CAREFUL * Math.exp(Math.min(4, Math.max(-5, r[3 + figure]))));
  const weights = scales.map((s) => 1 / (s * s));
  const total = weights.reduce((a, b) => a + b, 0);
  const mean = (of: (i: number) => number): number => weights.reduce((sum, w, i) => sum + w * of(i), 0) / total;
  const value = mean((i) => means[i]);
  return {
    value,
    doubt: Math.max(
      mean((i) => scales[i]),
      mean((i) => Math.abs(means[i] - value)),
    ),
  };
}

/** Out of the logarithm the network answers in. */
const plain = ({ value, doubt }: Doubted, most: number): Doubted => ({ value: Math.min(most, Math.max(0, 2 ** value - 1)), doubt });
