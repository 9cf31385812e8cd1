import type { Ink } from '../halftone/inks';
import { fromRgbPlanes } from '../picture/matrix';
import { wholeRegion, type Picture } from '../picture/picture';
import { randomStream } from '../picture/random';
import { streamInfo } from './pictures';

/** A made-up page as a scanner sees it. */
export interface Page {
  picture: Picture;
  /** What was printed. */
  true: Picture;
  /** How far an ink must cover to lie at the middle of a pixel, 0 to 1. */
  threshold: (ink: Ink, x: number, y: number) => number;
}

/** Dots are drawn so many times finer. */
const FINER = 3;

/** A page of soft colours, or greys where black alone prints, with round dots `period` pixels apart in rows turned by each ink's angle. */
export function pageOf(options: { width: number; height: number; period: number; angles: Partial<Record<Ink, number>> }): Page {
  const { width, height, period, angles } = options;
  const random = randomStream(11);
  const phases = Object.fromEntries(Object.keys(angles).map((ink) => [ink, [random(), random()]]));
  const spot = (ink: Ink, x: number, y: number): number => {
    const turn = ((angles[ink] ?? 0) * Math.PI) / 180,
      [pu, pv] = phases[ink];
    const wave = (t: number): number => Math.cos(2 * Math.PI * t);
    return (
      (wave((x * Math.cos(turn) + y * Math.sin(turn)) / period + pu) + wave((y * Math.cos(turn) - x * Math.sin(turn)) / period + pv)) / 4 +
      0.5
    );
  };
  const known = Float32Array.from({ length: 20_000 }, (_, n) => spot('black', (n * 0.7548) % 997, (n * 0.5698) % 991)).sort();
  // Heights are searched among those of a cell, so that thresholds are as evenly spread as covers are.
  const rank = (v: number): number => {
    let low = 0,
      high = known.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      if (known[mid] < v) low = mid + 1;
      else high = mid;
    }
    return low / known.length;
  };
  const threshold = (ink: Ink, x: number, y: number): number => rank(spot(ink, x + 0.5, y + 0.5));
  const printed = (ink: Ink, x: number, y: number, cover: number): number => {
    let sum = 0;
    for (let k = 0; k < FINER ** 2; k++)
      if (rank(spot(ink, x + ((k % FINER) + 0.5) / FINER, y + (Math.floor(k / FINER) + 0.5) / FINER)) < cover) sum++;
    return sum / FINER ** 2;
  };
  const info = streamInfo({ width, height, chromaShiftX: 0, chromaShiftY: 0, depth: 8 });
  const rgb = (): Uint16Array[] => [0, 1, 2].map(() => new Uint16Array(width * height));
  const [paper, truth] = [rgb(), rgb()];
  const coloured = angles.cyan !== undefined;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const waves = [0, 1, 2].map((c) => 0.5 + 0.3 * Math.sin((x + 40 * c) / (31 + 9 * c)) * Math.cos((y - 25 * c) / (27 + 7 * c)));
      const light = coloured ? waves : waves.map(() => waves[0]);
      const key = coloured ? 0.7 * (1 - Math.max(...light)) : 1 - light[0];
      const bare = 1 - printed('black', x, y, key);
      (['cyan', 'magenta', 'yellow'] as const).forEach((ink, c) => {
        const i = y * width + x;
        truth[c][i] = Math.round(65535 * light[c]);
        paper[c][i] = Math.round(65535 * bare * (coloured ? 1 - printed(ink, x, y, (1 - light[c] - key) / (1 - key)) : 1));
      });
    }
  }
  const pictureOf = ([red, green, blue]: Uint16Array[]): Picture => ({
    ...fromRgbPlanes(red, green, blue, info),
    region: wholeRegion(info),
  });
  return { picture: pictureOf(paper), true: pictureOf(truth), threshold };
}
