import type { Plane } from '../picture/picture';
import { transform } from '../fourier';
import { median } from '../metrics/median';

/** A printing screen, or another pattern with two directions across one another. */
export interface Screen {
  /** Pixels from dot to dot. */
  period: number;
  /** Degrees its rows are turned by, 0 to 90. */
  angle: number;
  /** How far it stands out of the spectrum round it, in decibels. */
  strength: number;
  /** How far its waves swing to either side where they swing much, in codes of 255: dots of ink far, the texture of paper little. */
  swing: number;
}

/** What swings less, in codes of 255, lies over the picture; what swings more is the dots it is printed with. */
export const SWINGS_AS_INK = 14;

/** Side of the squares whose spectra are averaged, and how many there are at most. */
const SIDE = 256,
  SMALLER_SIDE = 128,
  SQUARES = 12;
/** Periods that are looked for, in pixels. */
const PERIODS = { least: 2.3, most: 16 };
/** A peak stands out of what is round it by so many decibels, and is the highest within so many steps of frequency. */
const STANDS_OUT = 9,
  HIGHEST_WITHIN = 3;
/** Screens of one print, one an ink. */
const MAX_SCREENS = 4;
/** How near the second direction's peak lies to a right angle from the first, as a share of the frequency. */
const ACROSS = 0.03;
/** Decibels from which on rows are believed whose diagonals stand out more. */
const ROWS_STAND_OUT = 15;
/** Periods of one print's screens differ by this share at most. */
const SAME_PERIOD = 0.04;
/** Codecs leave peaks at these fractions of a sample on the axes. */
const CODEC_GRID = 8;

/** The screens that a plane was printed with, the strongest first; none where no peaks stand out in pairs at right angles. */
export function findScreens(plane: Plane): Screen[] {
  const side = Math.min(plane.width, plane.height) >= SIDE ? SIDE : SMALLER_SIDE;
  if (Math.min(plane.width, plane.height) < side) return [];
  const power = meanPower(plane, side);
  const peaks = peaksOf(power, side);
  const screens: Omit<Screen, 'swing'>[] = [];
  for (const peak of peaks) {
    const other = peaks.find((p) => p !== peak && nearest(p, -peak.v, peak.u) < ACROSS * Math.hypot(peak.u, peak.v) + 1 / side);
    if (!other) continue;
    const { period, angle } = screenOf(peak, other);
    // A screen has two peaks, each of which finds it, and harmonics, which are no screens of their own.
    const known = screens.some((s) => isHarmonic(s, period, angle));
    if (!known) screens.push({ period, angle, strength: Math.min(peak.strength, other.strength) });
  }
  screens.sort((a, b) => b.strength - a.strength);
  if (screens.length === 0) return [];
  // Where a page is of a middle grey, the diagonals of its dots may stand out more than their rows do.
  const own = screens.find((s) => s.strength >= ROWS_STAND_OUT && isDiagonal(s, screens[0])) ?? screens[0];
  // The inks of one print have screens of one period; other peaks are what these make with one another.
  const alike = screens.filter((s) => s !== own && Math.abs(s.period / own.period - 1) < SAME_PERIOD);
  return [own, ...alike].slice(0, MAX_SCREENS).map((screen) => ({ ...screen, swing: swingOf(plane, screen) }));
}

type Lattice = Pick<Screen, 'period' | 'angle'>;

interface Peak {
  /** Cycles a pixel, sideways and downwards; of the half of the plane with u > 0, or u = 0 and v > 0. */
  u: number;
  v: number;
  /** Decibels above what is round it. */
  strength: number;
}

/** Distance of a peak to a frequency, either of whose signs is the same wave. */
const nearest = (p: Peak, u: number, v: number): number => Math.min(Math.hypot(p.u - u, p.v - v), Math.hypot(p.u + u, p.v + v));

function screenOf(a: Peak, b: Peak): { period: number; angle: number } {
  const frequency = (Math.hypot(a.u, a.v) + Math.hypot(b.u, b.v)) / 2;
  const quarter = ((Math.atan2(a.v, a.u) * 180) / Math.PI + 360) % 90;
  return { period: 1 / frequency, angle: quarter };
}

/** How far two screens' rows are turned against one another, 0 to 45 degrees. */
export const turnedBy = (a: number, b: number): number => Math.abs(((a - b + 135) % 90) - 45);

/** Whether one screen is the diagonals of another's dots. */
const isDiagonal = (screen: Lattice, diagonal: Lattice): boolean =>
  Math.abs(screen.period / diagonal.period / Math.SQRT2 - 1) < 0.02 && turnedBy(diagonal.angle, screen.angle) > 44;

function isHarmonic(screen: Lattice, period: number, angle: number): boolean {
  const ratio = screen.period / period;
  const turned = turnedBy(angle, screen.angle);
  // The lattice's next points: once and twice as far along it, and across its corners.
  return [
    { times: 1, turn: 0 },
    { times: 2, turn: 0 },
    { times: 3, turn: 0 },
    { times: Math.SQRT2, turn: 45 },
    { times: 2 * Math.SQRT2, turn: 45 },
  ].some(({ times, turn }) => Math.abs(ratio / times - 1) < 0.05 && Math.abs(turned - turn) < 3);
}

/** Blocks in which the swing of a screen is measured: so many periods wide, so many to either side at most. */
const BLOCK_PERIODS = 6,
  BLOCKS = 24;
/** Share of the blocks that swing less than the one that is told: dots are small in lights and in shades. */
const SWINGS_LESS = 0.8;

/** How far the waves of a lattice swing, measured in blocks spread over the plane, each by its product with the waves. */
function swingOf(plane: Plane, { period, angle }: Lattice): number {
  const side = Math.ceil(BLOCK_PERIODS * period);
  const turn = (angle * Math.PI) / 180,
    step = (2 * Math.PI) / period;
  const places = (extent: number): number[] => {
    const count = Math.max(1, Math.min(BLOCKS, Math.floor(extent / side)));
    return Array.from({ length: count }, (_, n) => Math.floor(((extent - side) * n) / Math.max(1, count - 1)));
  };
  const waves = [
    { u: step * Math.cos(turn), v: step * Math.sin(turn) },
    { u: -step * Math.sin(turn), v: step * Math.cos(turn) },
  ];
  const window = Float64Array.from({ length: side }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / side) ** 2);
  const swings: number[] = [];
  for (const top of places(plane.height)) {
    for (const left of places(plane.width)) {
      for (const { u, v } of waves) {
        let real = 0,
          imaginary = 0,
          weights = 0;
        for (let y = 0; y < side; y++) {
          for (let x = 0; x < side; x++) {
            const weight = window[x] * window[y],
              sample = weight * plane.data[(top + y) * plane.width + left + x],
              phase = u * x + v * y;
            real += sample * Math.cos(phase);
            imaginary += sample * Math.sin(phase);
            weights += weight;
          }
        }
        swings.push((2 * Math.hypot(real, imaginary)) / weights / 257);
      }
    }
  }
  return swings.sort((a, b) => a - b)[Math.floor(SWINGS_LESS * (swings.length - 1))];
}

/** The power of the squares of a plane, averaged; from the middle frequencies' point of view flat pictures count as much as lively ones. */
function meanPower(plane: Plane, side: number): Float64Array {
  const window = Float64Array.from({ length: side }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / side) ** 2);
  const sum = new Float64Array(side * side);
  const across = Math.max(1, Math.min(4, Math.floor(plane.width / side))),
    down = Math.max(1, Math.min(Math.floor(SQUARES / across), Math.floor(plane.height / side)));
  const placed = (n: number, of: number, room: number): number => (of === 1 ? room >> 1 : Math.floor((room * n) / (of - 1)));
  for (let row = 0; row < down; row++) {
    for (let column = 0; column < across; column++) {
      const left = placed(column, across, plane.width - side),
        top = placed(row, down, plane.height - side);
      const real = new Float64Array(side * side),
        imaginary = new Float64Array(side * side);
      let mean = 0;
      for (let y = 0; y < side; y++) for (let x = 0; x < side; x++) mean += plane.data[(top + y) * plane.width + left + x];
      mean /= side * side;
      for (let y = 0; y < side; y++) {
        for (let x = 0; x < side; x++) real[y * side + x] = (plane.data[(top + y) * plane.width + left + x] - mean) * window[x] * window[y];
      }
      transform(real, imaginary, side);
      let total = 1e-9;
      for (let i = 1; i < real.length; i++) total += real[i] ** 2 + imaginary[i] ** 2;
      for (let i = 0; i < real.length; i++) sum[i] += (real[i] ** 2 + imaginary[i] ** 2) / total;
    }
  }
  return sum;
}

/** What stands out of the spectrum, the strongest first. */
function peaksOf(power: Float64Array, side: number): Peak[] {
  const at = (x: number, y: number): number => power[((y + side) % side) * side + ((x + side) % side)];
  const peaks: Peak[] = [];
  const half = side / 2;
  for (let y = -half; y < half; y++) {
    for (let x = 0; x < half; x++) {
      if (x === 0 && y <= 0) continue;
      const period = side / Math.hypot(x, y);
      if (period < PERIODS.least || period > PERIODS.most || onCodecGrid(x, y, side)) continue;
      const own = at(x, y);
      let highest = true;
      for (let dy = -HIGHEST_WITHIN; dy <= HIGHEST_WITHIN && highest; dy++) {
        for (let dx = -HIGHEST_WITHIN; dx <= HIGHEST_WITHIN; dx++) if (at(x + dx, y + dy) > own) highest = false;
      }
      if (!highest) continue;
      const strength = 10 * Math.log10(own / ringOf(at, x, y));
      if (strength < STANDS_OUT) continue;
      const shift = (before: number, after: number): number => {
        const [a, b, c] = [before, own, after].map((p) => Math.log(p + 1e-30));
        const bend = a - 2 * b + c;
        return bend < 0 ? Math.min(0.5, Math.max(-0.5, (a - c) / (2 * bend))) : 0;
      };
      peaks.push({
        u: (x + shift(at(x - 1, y), at(x + 1, y))) / side,
        v: (y + shift(at(x, y - 1), at(x, y + 1))) / side,
        strength,
      });
    }
  }
  return peaks.sort((a, b) => b.strength - a.strength).slice(0, 60);
}

const onCodecGrid = (x: number, y: number, side: number): boolean => {
  const grid = side / CODEC_GRID;
  return (
    (Math.abs(y) <= 1 && Math.abs(x / grid - Math.round(x / grid)) * grid <= 1) ||
    (x <= 1 && Math.abs(y / grid - Math.round(y / grid)) * grid <= 1)
  );
};

/** The middle power of the ring round a place. */
function ringOf(at: (x: number, y: number) => number, x: number, y: number): number {
  const ring: number[] = [];
  for (let dy = -7; dy <= 7; dy++) {
    for (let dx = -7; dx <= 7; dx++) {
      const away = Math.hypot(dx, dy);
      if (away > 4 && away <= 7.5) ring.push(at(x + dx, y + dy));
    }
  }
  return median(ring) + 1e-30;
}
