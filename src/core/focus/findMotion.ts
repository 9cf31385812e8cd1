import { transform } from '../fourier';
import type { Plane } from '../picture/picture';

/** Motion of the camera as it shows in a picture. */
export interface Motion {
  /** Pixels a point was drawn out. */
  length: number;
  /** Degrees, 0 is level, 90 upright. */
  angle: number;
  /** How far its trace stands out of the cepstrum round it, in deviations. */
  strength: number;
}

/** A deep point of the cepstrum. */
interface Found {
  x: number;
  y: number;
  strength: number;
}

/** Side of the squares whose spectra are averaged, and how many there are at most each way. */
const SIDE = 256,
  ACROSS = 3;
/** Lengths that are looked for, in pixels. */
const LENGTHS = { least: 4, most: 40 };

/**
 * The motion that a picture was blurred by: lines of a spectrum where a motion has taken all away lie at equal distances, which the spectrum of its
 * logarithm shows as a deep point at the motion's length and direction (cepstrum; Cannon, 1976).
 * @returns the deepest such point; undefined for pictures that are too small.
 */
export function findMotion(plane: Plane): Motion | undefined {
  if (Math.min(plane.width, plane.height) < SIDE) return undefined;
  const cepstrum = cepstrumOf(plane);
  const at = (x: number, y: number): number => cepstrum[((y + SIDE) % SIDE) * SIDE + ((x + SIDE) % SIDE)];
  let best: Found | undefined;
  for (let y = 0; y <= LENGTHS.most; y++) {
    for (let x = -LENGTHS.most; x <= LENGTHS.most; x++) {
      const length = Math.hypot(x, y);
      if (length < LENGTHS.least || length > LENGTHS.most || (y === 0 && x < 0) || onCodecGrid(x, y)) continue;
      const own = at(x, y);
      if (own >= 0 || [-1, 0, 1].some((j) => [-1, 0, 1].some((i) => at(x + i, y + j) < own))) continue;
      const strength = -own / ringOf(at, length);
      if (!best || strength > best.strength) best = { x, y, strength };
    }
  }
  if (!best) return undefined;
  const { x, y, strength } = fundamental(best, at);
  const middle = (a: number, b: number, c: number): number => {
    const bend = a - 2 * b + c;
    return bend > 0 ? Math.min(0.5, Math.max(-0.5, (a - c) / (2 * bend))) : 0;
  };
  const fx = x + middle(at(x - 1, y), at(x, y), at(x + 1, y)),
    fy = y + middle(at(x, y - 1), at(x, y), at(x, y + 1));
  return { length: Math.hypot(fx, fy), angle: ((Math.atan2(fy, fx) * 180) / Math.PI + 180) % 180, strength };
}

/** A point at twice the motion may be deeper: then there is one half way too, of so much of its strength. */
const HALF_WAY = 0.45;

function fundamental(found: Found, at: (x: number, y: number) => number): Found {
  const near: Found[] = [];
  for (let j = -1; j <= 1; j++) {
    for (let i = -1; i <= 1; i++) {
      const x = Math.round(found.x / 2) + i,
        y = Math.round(found.y / 2) + j;
      near.push({ x, y, strength: -at(x, y) / ringOf(at, Math.hypot(x, y)) });
    }
  }
  const half = near.reduce((a, b) => (b.strength > a.strength ? b : a));
  return Math.hypot(half.x, half.y) >= LENGTHS.least && half.strength > HALF_WAY * found.strength ? half : found;
}

/** Blocks of a codec leave deep points at multiples of their side along the axes. */
const CODEC_GRID = 8;

const onCodecGrid = (x: number, y: number): boolean =>
  Math.min(Math.abs(x), y) <= 1 && Math.abs(((Math.max(Math.abs(x), y) + CODEC_GRID / 2) % CODEC_GRID) - CODEC_GRID / 2) <= 1;

/** Deviation of the cepstrum at a distance from its middle. */
function ringOf(at: (x: number, y: number) => number, length: number): number {
  let sum = 0,
    count = 0;
  for (let n = 0; n < 180; n += 3) {
    const turn = (n * Math.PI) / 180;
    for (const away of [length - 1, length, length + 1]) {
      sum += at(Math.round(away * Math.cos(turn)), Math.round(away * Math.sin(turn))) ** 2;
      count++;
    }
  }
  return Math.sqrt(sum / count) + 1e-12;
}

function cepstrumOf(plane: Plane): Float64Array {
  const window = Float64Array.from({ length: SIDE }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / SIDE) ** 2);
  const logs = new Float64Array(SIDE * SIDE);
  const across = Math.max(1, Math.min(ACROSS, Math.floor((2 * plane.width) / SIDE) - 1)),
    down = Math.max(1, Math.min(ACROSS, Math.floor((2 * plane.height) / SIDE) - 1));
  const placed = (n: number, of: number, room: number): number => (of === 1 ? room >> 1 : Math.floor((room * n) / (of - 1)));
  const power = new Float64Array(SIDE * SIDE);
  for (let row = 0; row < down; row++) {
    for (let column = 0; column < across; column++) {
      const left = placed(column, across, plane.width - SIDE),
        top = placed(row, down, plane.height - SIDE);
      const real = new Float64Array(SIDE * SIDE),
        imaginary = new Float64Array(SIDE * SIDE);
      for (let y = 0; y < SIDE; y++) {
        // Of steps along the line: the picture's own spectrum falls steeply, that of its steps hardly.
        for (let x = 0; x < SIDE; x++) {
          const i = (top + y) * plane.width + left + x;
          const step =
            4 * plane.data[i] -
            plane.data[i - (x > 0 ? 1 : 0)] -
            plane.data[i + (x < SIDE - 1 ? 1 : 0)] -
            plane.data[i - (y > 0 ? plane.width : 0)] -
            plane.data[i + (y < SIDE - 1 ? plane.width : 0)];
          real[y * SIDE + x] = step * window[x] * window[y];
        }
      }
      transform(real, imaginary, SIDE);
      let total = 1e-9;
      for (let i = 0; i < real.length; i++) total += real[i] ** 2 + imaginary[i] ** 2;
      for (let i = 0; i < real.length; i++) power[i] += (real[i] ** 2 + imaginary[i] ** 2) / total;
    }
  }
  for (let i = 0; i < logs.length; i++) logs[i] = Math.log(power[i] + 1e-9);
  const mean = logs.reduce((sum, v) => sum + v, 0) / logs.length;
  for (let i = 0; i < logs.length; i++) logs[i] -= mean;
  transform(logs, new Float64Array(SIDE * SIDE), SIDE);
  return logs;
}
