import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { blurPlane } from '../src/core/kernels/blur';
import { psnr } from '../src/core/metrics/metrics';
import { INKS, findInks, type Ink, type InkScreen } from '../src/core/halftone/inks';
import type { ConditionReport } from '../src/core/condition/report';
import { inkOn, roundDots } from '../src/core/testing/page';
import { halftone } from '../src/core/treatments/halftone/halftone';
import { cutPicture, newPlane, wholeRegion, type Picture, type Plane } from '../src/core/picture/picture';
import { randomStream } from '../src/core/picture/random';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import type { Quality } from '../src/core/treatments/quality';
import { emptyPlan } from '../src/shared/plan';
import { PEAK } from './held';
import { FOLDER, readPicture } from './prints';
import type { Row } from './table';

/** Lines an inch, and pixels an inch they are scanned at. */
const RULINGS = [65, 85, 110, 133, 150, 175],
  SCANNED = 600;
/** Degrees a page lies askew, and those of the four inks (ISO 12647-2). */
const TURNS = [0, 7, 20, 33],
  ANGLES: Record<Ink, number> = { black: 45, cyan: 15, magenta: 75, yellow: 0 };
/** Side of the parts that are printed. */
const SIDE = 320,
  EDGE = 24;

type Image = Float32Array[];

/** Where an ink lies on a picture that it shall cover so far, 0 to 1. */
function printed(cover: Float32Array, period: number, angle: number, random: () => number): Float32Array {
  const dots = roundDots(period, angle, [random(), random()]);
  return cover.map((v, i) => inkOn(dots, i % SIDE, Math.floor(i / SIDE), v));
}

/** Red, green and blue over 1 of a picture. */
function lightOf({ planes: [y, cb, cr] }: Picture): Image {
  const light = [0, 1, 2].map(() => new Float32Array(y.data.length));
  y.data.forEach((v, i) => {
    const [l, b, r] = [v / 65280, (cb.data[i] - 32768) / 65280, (cr.data[i] - 32768) / 65280];
    [l + 1.402 * r, l - 0.344136 * b - 0.714136 * r, l + 1.772 * b].forEach((c, k) => (light[k][i] = Math.min(1, Math.max(0, c))));
  });
  return light;
}

function pictureOf(light: Image, like: Picture): Picture {
  const planes = like.planes.map(() => newPlane(SIDE, SIDE));
  for (let i = 0; i < SIDE * SIDE; i++) {
    const [r, g, b] = light.map((p) => 255 * p[i]);
    const y = 0.299 * r + 0.587 * g + 0.114 * b;
    [y, 128 + (b - y) * 0.564334, 128 + (r - y) * 0.713267].forEach((v, p) => (planes[p].data[i] = Math.round(v * 256)));
  }
  return { ...like, planes };
}

/** A picture as a page of it is scanned, printed with one ink or with four. */
function page(picture: Picture, period: number, turn: number, inks: 1 | 4, seed: number): Picture {
  const random = randomStream(seed);
  const light = lightOf(picture);
  const all = light[0].map((_, i) => i);
  if (inks === 1) {
    const cover = all.map((i) => 1 - (0.299 * light[0][i] + 0.587 * light[1][i] + 0.114 * light[2][i]));
    const ink = printed(cover, period, ANGLES.black + turn, random);
    return softened(
      pictureOf(
        light.map(() => ink.map((v) => 1 - v)),
        picture,
      ),
    );
  }
  const black = all.map((i) => 0.7 * (1 - Math.max(light[0][i], light[1][i], light[2][i])));
  const key = printed(black, period, ANGLES.black + turn, random);
  const made = light.map((plane, c) => {
    const ink = printed(
      plane.map((v, i) => (1 - v - black[i]) / (1 - black[i] + 1e-4)),
      period,
      ANGLES[INKS[c + 1]] + turn,
      random,
    );
    return ink.map((v, i) => (1 - v) * (1 - key[i]));
  });
  return softened(pictureOf(made, picture));
}

/** A scanner's own softness. */
const softened = (picture: Picture): Picture => ({
  ...picture,
  planes: picture.planes.map((plane) => blurPlane(plane, picture.region, picture.region, 0.5, 1)),
});

/** Degrees by which a screen that was found is off. */
const turnedFrom = ({ ink, angle }: InkScreen, turn: number): number => ((angle - ANGLES[ink] - turn + 405) % 90) - 45;

async function joined(picture: Picture, settings: Record<string, unknown>): Promise<Picture> {
  const { info } = picture;
  const step = { id: 'halftone', treatment: 'halftone', on: true, settings };
  const source = { info, key: 'page', frame: (_: number, region: Picture['region']) => Promise.resolve(cutPicture(picture, region)) };
  return compile(emptyPlan([step]), source, { cache: new PictureCache(0) }).output.frame(0, wholeRegion(info));
}

/** The Gaussian that comes nearest to the truth. */
function gaussianAtItsBest(screened: Plane, truth: Plane): number {
  const whole = { x: 0, y: 0, width: SIDE, height: SIDE };
  let best = -Infinity;
  for (let sigma = 0.6; sigma < 6; sigma += 0.2)
    best = Math.max(best, psnr(blurPlane(screened, whole, whole, sigma, 1), truth, PEAK, EDGE));
  return best;
}

/** Printed pages with their dots joined, against a Gaussian tuned to the truth; and their screens measured. */
export async function halftoneJoined(): Promise<Row[]> {
  const folder = path.join(FOLDER, 'held');
  if (!existsSync(folder)) throw new Error(`${folder} is missing; "./run train held-out" makes it`);
  const pictures: Picture[] = [];
  for (const file of readdirSync(folder)
    .filter((f) => f.startsWith('photograph'))
    .sort()) {
    const picture = await readPicture(path.join(folder, file));
    if (Math.min(picture.region.width, picture.region.height) < SIDE) continue;
    const part = cutPicture(picture, { x: 0, y: 0, width: SIDE, height: SIDE });
    const info = { ...picture.info, width: SIDE, height: SIDE };
    pictures.push({ ...part, info, region: wholeRegion(info) });
  }
  const gains: Record<Quality, { inks: number; gain: number }[]> = { fast: [], best: [] };
  const onPaper: Ink[] = [],
    told: InkScreen[] = [];
  let off = 0,
    seen = 0,
    count = 0;
  for (const [n, ruling] of RULINGS.entries()) {
    for (const [k, turn] of TURNS.entries()) {
      for (const inks of [1, 4] as const) {
        const picture = pictures[(4 * n + k) % pictures.length];
        const period = SCANNED / ruling;
        const screened = page(picture, period, turn, inks, 100 * n + k);
        const base = gaussianAtItsBest(screened.planes[0], picture.planes[0]);
        const screens = findInks(screened);
        const [first] = screens;
        count++;
        if (first && Math.abs(first.period / period - 1) < 0.05) {
          seen++;
          off = Math.max(off, Math.abs(first.period / period - 1));
        }
        onPaper.push(...(inks === 1 ? INKS.slice(0, 1) : INKS));
        told.push(...screens.filter((s) => Math.abs(turnedFrom(s, turn)) < 0.5));
        const proposed = halftone.propose({ measurements: { screens } } as ConditionReport, picture.info)?.settings;
        for (const quality of ['fast', 'best'] as const) {
          const made = await joined(screened, { ...proposed, quality, amount: 100 });
          gains[quality].push({ inks, gain: psnr(made.planes[0], picture.planes[0], PEAK, EDGE) - base });
        }
      }
    }
  }
  const group = 'Prints: printing screens of 65 to 175 lines an inch taken away, over a Gaussian at its best';
  const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;
  const rows = (['fast', 'best'] as const).flatMap((quality) =>
    [1, 4].map((inks): Row => {
      const own = gains[quality].filter((g) => g.inks === inks).map((g) => g.gain);
      const gain = mean(own);
      return {
        group,
        what: `${quality}, ${inks === 1 ? 'one ink' : 'four inks'}, dB`,
        shown: `${gain >= 0 ? '+' : ''}${gain.toFixed(2)} (worst ${Math.min(...own).toFixed(2)})`,
        value: gain,
        ...(quality === 'best' && { atLeast: 4 }),
      };
    }),
  );
  return [
    ...rows,
    { group, what: 'pages whose period is found to 5 %', shown: `${seen} of ${count}`, value: seen / count, atLeast: 0.95 },
    { group, what: 'their periods off by at most, %', shown: (100 * off).toFixed(1) },
    {
      group,
      what: 'inks whose angle is found to half a degree',
      shown: `${told.length} of ${onPaper.length}`,
      value: told.length / onPaper.length,
      atLeast: 0.95,
    },
  ];
}
