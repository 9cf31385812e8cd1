import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { examine } from '../src/core/condition/examine';
import type { Measurements } from '../src/core/condition/report';
import { psnr } from '../src/core/metrics/metrics';
import { wholeRegion, type Plane } from '../src/core/picture/picture';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import type { FrameSource } from '../src/core/graph/node';
import type { PlainPlan, Plan } from '../src/shared/plan';
import { proposePlan, withQuality } from '../src/core/plan/plan';
import { openSource } from '../src/media/openSource';
import { jpegStep } from './coding';
import { filterGrey } from './ffmpeg';
import { blurredRgb, cleanPictures, grainyRgb, halved, sharpOf, type Clean, type Rgb } from './material';
import type { Row } from './table';

const CLEAN = 'Do no harm: clean pictures at half size, proposed plans untouched, against the better of bicubic and lanczos at 2x';
const LADDER = 'Do no harm: damaged pictures at half size, proposed plans against the same steps told the truth (best)';
/** 16-bit steps of a code of 255, full range. */
const CODE = 257;
const PEAK = 255 * CODE;
const QUALITIES = ['fast', 'best'] as const;

/** Luma in 16-bit codes, as the program makes it. */
function lumaOf({ width, height, data }: Rgb): Plane {
  const luma = Uint16Array.from({ length: width * height }, (_, i) =>
    Math.round((0.299 * data[3 * i] + 0.587 * data[3 * i + 1] + 0.114 * data[3 * i + 2]) * CODE),
  );
  return { width, height, data: luma };
}

const closeness = (made: Plane, truth: Rgb): number => psnr(made, lumaOf(truth), PEAK, Math.min(8, truth.width >> 4));

/** What the better of two plain enlargements makes of a picture. */
function plainly(small: Rgb, truth: Rgb, work: string): number {
  const { width, height } = truth;
  return Math.max(
    ...['bicubic', 'lanczos'].map((flags) => {
      const [{ data }] = filterGrey([lumaOf(small)], `scale=${width}:${height}:flags=${flags}+accurate_rnd`, { width, height }, work);
      return closeness({ width, height, data: data.map((v) => (v >> 8) * CODE) }, truth);
    }),
  );
}

async function made(source: FrameSource, plan: Plan): Promise<Plane> {
  const { output } = compile(plan, source, { cache: new PictureCache(200 << 20) });
  return (await output.frame(0, wholeRegion(output.stream))).planes[0];
}

/** Examines and treats a picture as it would come in as a file. */
async function proposed(file: string): Promise<{ source: FrameSource; measured: Measurements; plan: PlainPlan }> {
  const source = await openSource(file, `${file}${Math.random()}`);
  const report = await examine(source);
  return { source, measured: report.measurements, plan: proposePlan(report, source.info) };
}

export interface Harm {
  kind: string;
  name: string;
  gains: number[];
  measured: Measurements;
  plan: Plan;
}

/** What proposed plans gain over plain enlargement, fast and best. */
export async function harmOf({ name, kind, truth }: Clean, work: string): Promise<Harm> {
  const file = path.join(work, 'clean.png');
  const small = halved(truth);
  await sharpOf(small).png().toFile(file);
  const base = plainly(small, truth, work);
  const { source, measured, plan } = await proposed(file);
  const gains = [];
  for (const quality of QUALITIES) gains.push(closeness(await made(source, withQuality(plan, quality)), truth) - base);
  return { kind, name, gains, measured, plan };
}

const signed = (v: number): string => `${v >= 0 ? '+' : ''}${v.toFixed(2)}`;
const mean = (values: number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

function rowsOf(harms: Harm[]): Row[] {
  const rows: Row[] = [];
  for (const kind of [...new Set(harms.map((h) => h.kind))]) {
    const of = harms.filter((h) => h.kind === kind);
    for (const [i, quality] of QUALITIES.entries()) {
      const worst = of.reduce((a, b) => (a.gains[i] < b.gains[i] ? a : b));
      rows.push({
        group: CLEAN,
        what: `${of.length} ${kind}s, ${quality}: worst (${worst.name})`,
        shown: `${signed(worst.gains[i])} dB; mean ${signed(mean(of.map((h) => h.gains[i])))} dB`,
        value: worst.gains[i],
        atLeast: -0.1,
      });
    }
  }
  for (const [i, quality] of QUALITIES.entries()) {
    const average = mean(harms.map((h) => h.gains[i]));
    rows.push({ group: CLEAN, what: `all ${harms.length}, ${quality}: mean`, shown: `${signed(average)} dB`, value: average, atLeast: 0 });
  }
  return rows;
}

/** One rung: what is done to a picture, and what the steps that answer it should be told. */
interface Damage {
  name: string;
  sigma: number;
  size: number;
  quality: number;
  blur: number;
}

const rung = (name: string, part: Partial<Damage>): Damage => ({ name, sigma: 0, size: 0, quality: 0, blur: 0, ...part });
export const RUNGS: Damage[] = [
  ...[2, 5, 10, 25].map((sigma) => rung(`grain ${sigma}`, { sigma })),
  rung('grain 6 of 0.8 px', { sigma: 6, size: 0.8 }),
  ...[20, 40, 60, 90].map((quality) => rung(`JPEG ${quality}`, { quality })),
  rung('blur 0.8', { blur: 0.8 }),
  rung('blur 0.8, grain 5', { blur: 0.8, sigma: 5 }),
  rung('grain 5, JPEG 40', { sigma: 5, quality: 40 }),
  rung('grain 6, JPEG 55', { sigma: 6, quality: 55 }),
  rung('grain 4, JPEG 85', { sigma: 4, quality: 85 }),
];

/** The plan's steps with what is known to have been done. */
function told(plan: PlainPlan, { sigma, size, quality }: Damage): Plan {
  const steps = plan.steps.map((step) => {
    if (step.treatment === 'grain')
      return { ...step, on: sigma > 0, settings: { ...step.settings, luma: sigma, chroma: 0, size, chromaSize: 0 } };
    return step.treatment === 'compression'
      ? { ...step, on: quality > 0, settings: { ...step.settings, coding: quality ? jpegStep(quality) : 0 } }
      : step;
  });
  return { ...plan, steps };
}

export interface Rung {
  name: string;
  /** Over the better of bicubic and lanczos, as proposed and told the truth; of the best choice. */
  gain: number;
  told: number;
  measured: Measurements;
}

export async function rungOf({ name, truth }: Clean, damage: Damage, work: string): Promise<Rung> {
  const clean = halved(truth);
  const soft = damage.blur ? await blurredRgb(clean, damage.blur) : clean;
  const grainy = damage.sigma ? grainyRgb(soft, damage.sigma, damage.size, 5) : soft;
  const file = path.join(work, damage.quality ? 'rung.jpg' : 'rung.png');
  if (damage.quality) writeFileSync(file, await sharpOf(grainy).jpeg({ quality: damage.quality }).toBuffer());
  else await sharpOf(grainy).png().toFile(file);
  const { data } = await sharp(readFileSync(file)).removeAlpha().toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  const base = plainly({ ...clean, data: new Uint8Array(data) }, truth, work);
  const { source, measured, plan } = await proposed(file);
  const full = fullPlan(plan);
  const run = async (of: Plan): Promise<number> => closeness(await made(source, withQuality(of, 'best')), truth) - base;
  return { name, gain: await run(plan), told: await run(told(full, damage)), measured };
}

/** The plan with a step for compression, which is not proposed where none is seen. */
function fullPlan(plan: PlainPlan): PlainPlan {
  if (plan.steps.some((s) => s.treatment === 'compression')) return plan;
  const at = plan.steps.findIndex((s) => s.treatment === 'grain');
  const step = { id: 'compression', treatment: 'compression', on: false, settings: { quality: 'best', coding: 0, keep: 0 } };
  return { ...plan, steps: [...plan.steps.slice(0, at), step, ...plan.steps.slice(at)] };
}

export async function doNoHarm(work: string): Promise<Row[]> {
  const pictures = await cleanPictures();
  const harms: Harm[] = [];
  for (const clean of pictures) harms.push(await harmOf(clean, work));
  const rows = rowsOf(harms);
  const few = pictures.filter((p, n) => p.kind !== 'texture' && p.kind !== 'large' && n % 4 === 0);
  for (const damage of RUNGS) {
    const rungs: Rung[] = [];
    for (const clean of few) rungs.push(await rungOf(clean, damage, work));
    const short = rungs.map((r) => r.told - r.gain);
    const lowest = rungs.reduce((a, b) => (a.gain < b.gain ? a : b));
    rows.push({
      group: LADDER,
      what: `${damage.name}: short of the truth's settings, mean of ${rungs.length}; worst`,
      shown: `${mean(short).toFixed(2)} dB; ${Math.max(...short).toFixed(2)} dB`,
      value: Math.max(...short),
      atMost: 0.3,
    });
    rows.push({
      group: LADDER,
      what: `${damage.name}: over plain enlargement, mean; worst (${lowest.name})`,
      shown: `${signed(mean(rungs.map((r) => r.gain)))} dB; ${signed(lowest.gain)} dB`,
      value: lowest.gain,
      atLeast: -0.1,
    });
  }
  return rows;
}
