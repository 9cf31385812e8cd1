import { type Ink, INKS } from '../halftone/inks';
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

/** How far an ink must cover to lie at a place, 0 to 1. */
export type Threshold = (x: number, y: number) => number;

/** Round dots `period` pixels apart in rows turned by `angle` degrees, as evenly spread over covers as these are. @param phase of both rows, in periods. */
export function roundDots(period: number, angle: number, phase: readonly [number, number]): Threshold {
  const turn = (angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const height = (x: number, y: number): number =>
    (Math.cos(2 * Math.PI * ((x * cos + y * sin) / period + phase[0])) +
      Math.cos(2 * Math.PI * ((y * cos - x * sin) / period + phase[1]))) /
      4 +
    0.5;
  const known = Float32Array.from({ length: 20_000 }, (_, n) => height((n * 0.7548) % 997, (n * 0.5698) % 991)).sort();
  return (x, y) => {
    const v = height(x, y);
    let low = 0,
      high = known.length;
    while (low < high) {
      const mid = (low + high) >> 1;
      if (known[mid] < v) low = mid + 1;
      else high = mid;
    }
    return low / known.length;
  };
}

/** Dots are drawn so many times finer. */
const FINER = 3;

/** Share of a pixel that an ink lies on which shall cover so far. */
export function inkOn(threshold: Threshold, x: number, y: number, cover: number): number {
  let sum = 0;
  for (let j = 0; j < FINER; j++)
    for (let i = 0; i < FINER; i++) if (threshold(x + (i + 0.5) / FINER, y + (j + 0.5) / FINER) < cover) sum++;
  return sum / FINER ** 2;
}

/** A page of soft colours, or greys where black alone prints, with round dots `period` pixels apart in rows turned by each ink's angle. */
export function pageOf(options: { width: number; height: number; period: number; angles: Partial<Record<Ink, number>> }): Page {
  const { width, height, period, angles } = options;
  const random = randomStream(11);
  const dots = new Map(INKS.map((ink) => [ink, roundDots(period, angles[ink] ?? 0, [random(), random()])]));
  const dotsOf = (ink: Ink): Threshold => dots.get(ink) ?? (() => 1);
  const info = streamInfo({ width, height, chromaShiftX: 0, chromaShiftY: 0, depth: 8 });
  const rgb = (): Uint16Array[] => [0, 1, 2].map(() => new Uint16Array(width * height));
  const [paper, truth] = [rgb(), rgb()];
  const coloured = angles.cyan !== undefined;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const waves = [0, 1, 2].map((c) => 0.5 + 0.3 * Math.sin((x + 40 * c) / (31 + 9 * c)) * Math.cos((y - 25 * c) / (27 + 7 * c)));
      const light = coloured ? waves : waves.map(() => waves[0]);
      const key = coloured ? 0.7 * (1 - Math.max(...light)) : 1 - light[0];
      const bare = 1 - inkOn(dotsOf('black'), x, y, key);
      (['cyan', 'magenta', 'yellow'] as const).forEach((ink, c) => {
        const i = y * width + x;
        const cover = (1 - light[c] - key) / (1 - key);
        truth[c][i] = Math.round(65535 * light[c]);
        paper[c][i] = Math.round(65535 * bare * (coloured ? 1 - inkOn(dotsOf(ink), x, y, cover) : 1));
      });
    }
  }
  const pictureOf = ([red, green, blue]: Uint16Array[]): Picture => ({
    ...fromRgbPlanes(red, green, blue, info),
    region: wholeRegion(info),
  });
  return { picture: pictureOf(paper), true: pictureOf(truth), threshold: (ink, x, y) => dotsOf(ink)(x + 0.5, y + 0.5) };
}
