import { fillFrom, type Copied, type FillOptions } from './fill';
import { dilated, type Hole } from './hole';

/** Pixels to each side whose mean grain is told from, and over which its power is taken. */
const FINE = 2,
  ROUND = 4;
/** Side of the blocks whose grain is of one place. */
const BLOCK = 8;
/** Every so many pixels, sideways and downwards, the picture's grain is looked at. */
const STEP = 3;
/** Share of the places round a hole, of about its lightness, that are less rough than what counts as its grain: the others have detail of their own. */
const PLAIN = 0.3;
/** Steps of lightness, of 16 bits, for each of which the grain is told, from so many places at least. */
const SHADE = 8192,
  FEWEST = 20;
/** Times that fine parts of the surroundings are laid on at most. */
const MOST = 2;

/**
 * What was filled with the grain that the picture has round it. Means of patches, and of several ways to fill, are smoother than any of them, and a place
 * without grain is seen from afar. What each missing pixel looks most like has real grain: of that as much is laid on as is lacking.
 *
 * @param made luma of the hole, filled.
 * @param from where each missing pixel may have it from.
 */
export function grained({ width, height, planes: [luma], missing }: Hole, made: Uint16Array, from: Copied['from']): Uint16Array {
  const own = fineOf(made, width, height);
  const wanted = grainRound();
  if (!wanted) return made;
  // What is fine next to what is missing is of no use.
  const beside = dilated(missing, width, height, FINE);
  const whole = fineOf(luma, width, height),
    theirs = new Float32Array(own.length);
  for (let i = 0; i < theirs.length; i++) {
    const place = missing[i] ? placeOf(i) : -1;
    if (place >= 0) theirs[i] = whole[place];
  }
  const out = made.slice();
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (!missing[i] || from[i] < 0) continue;
      const lacking = wanted[(made[i] / SHADE) | 0] - power(own, own, x, y, 1),
        copied = power(theirs, theirs, x, y, 1);
      if (lacking <= 0 || copied <= 0) continue;
      const shared = power(own, theirs, x, y, 1);
      const share = Math.min(MOST, (Math.sqrt(shared ** 2 + copied * lacking) - shared) / copied);
      out[i] = Math.min(65535, Math.max(0, Math.round(made[i] + share * theirs[i])));
    }
  }
  return out;

  /** Where a missing pixel has its grain from: where its block's middle looks most like, moved along, for grain hangs together; or its own best match. */
  function placeOf(i: number): number {
    const x = i % width,
      y = Math.floor(i / width);
    const middle = Math.min(height - 1, y - (y % BLOCK) + BLOCK / 2) * width + Math.min(width - 1, x - (x % BLOCK) + BLOCK / 2);
    const match = from[middle];
    if (match < 0) return from[i];
    const column = (match % width) + x - (middle % width),
      row = Math.floor(match / width) + y - Math.floor(middle / width);
    const place = row * width + column;
    return column < 0 || row < 0 || column >= width || row >= height || beside[place] ? from[i] : place;
  }

  /** Power of the grain at each lightness; undefined where too little of the picture is round the hole. */
  function grainRound(): number[] | undefined {
    const near = dilated(missing, width, height, FINE + ROUND);
    const all: number[] = [],
      shades = Array.from({ length: Math.ceil(65536 / SHADE) }, (): number[] => []);
    for (let y = ROUND; y < height - ROUND; y += STEP) {
      for (let x = ROUND; x < width - ROUND; x += STEP) {
        const i = y * width + x;
        if (near[i]) continue;
        const found = power(own, own, x, y, 0);
        all.push(found);
        shades[Math.floor(made[i] / SHADE)].push(found);
      }
    }
    const plain = (powers: number[]): number => powers.sort((a, b) => a - b)[Math.floor(PLAIN * powers.length)];
    return all.length < FEWEST ? undefined : shades.map((powers) => plain(powers.length < FEWEST ? all : powers));
  }

  /** Mean product of two fine parts round a place, over what is missing or over what is there. */
  function power(a: Float32Array, b: Float32Array, x: number, y: number, lacking: number): number {
    const left = Math.max(0, x - ROUND),
      right = Math.min(width - 1, x + ROUND),
      bottom = Math.min(height - 1, y + ROUND);
    let sum = 0,
      count = 0;
    for (let row = Math.max(0, y - ROUND); row <= bottom; row++) {
      for (let i = row * width + left; i <= row * width + right; i++) {
        if (missing[i] !== lacking) continue;
        sum += a[i] * b[i];
        count++;
      }
    }
    return sum / count;
  }
}

/** A hole filled with copies, and with the grain of where they are from. */
export function fillWithGrain(hole: Hole, options: FillOptions): Uint16Array[] {
  const {
    planes: [luma, ...chroma],
    from,
  } = fillFrom(hole, options);
  return [grained(hole, luma, from), ...chroma];
}

/** A plane above its means over squares, whose edges repeat. */
function fineOf(plane: Uint16Array, width: number, height: number): Float32Array {
  const side = 2 * FINE + 1;
  const across = new Float32Array(plane.length),
    out = new Float32Array(plane.length);
  const at = (n: number, last: number): number => Math.min(last, Math.max(0, n));
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    for (let x = -FINE; x < FINE; x++) sum += plane[row + at(x, width - 1)];
    for (let x = 0; x < width; x++) {
      sum += plane[row + at(x + FINE, width - 1)];
      across[row + x] = sum;
      sum -= plane[row + at(x - FINE, width - 1)];
    }
  }
  const sums = new Float32Array(width);
  const add = (y: number, sign: number): void => {
    const row = at(y, height - 1) * width;
    for (let x = 0; x < width; x++) sums[x] += sign * across[row + x];
  };
  for (let y = -FINE; y < FINE; y++) add(y, 1);
  for (let y = 0; y < height; y++) {
    add(y + FINE, 1);
    for (let x = 0; x < width; x++) out[y * width + x] = plane[y * width + x] - sums[x] / side ** 2;
    add(y - FINE, -1);
  }
  return out;
}
