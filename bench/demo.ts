import path from 'node:path';
import { examine } from '../src/core/condition/examine';
import { toScreen } from '../src/core/picture/screen';
import { wholeRegion, type Picture } from '../src/core/picture/picture';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import { mapSteps, type Plan } from '../src/shared/plan';
import { proposePlan, withQuality } from '../src/core/plan/plan';
import { openSource } from '../src/media/openSource';
import { probe } from '../src/media/probe';
import type { Row } from './table';

const GROUP = 'Demo archive: moving items against what they showed before their carriers, luma at half size';
const demo = (folder: string, name: string): string => path.resolve(import.meta.dirname, '../demo', folder, name);

/** Items whose result has a frame for each moment of their truth; pulldown is not taken out yet, so films on tape have not. */
const ITEMS = [
  'Regatta disc, title 1.mkv',
  'Cottage lane, tape 3.mpg',
  'Cottage lane, tape 1.mpg',
  'Christmas Eve, camcorder.mpg',
  'Harbour cine film.mov',
  'Harbour, web clip.mp4',
];
/** Shares of the running time that are looked at. */
const PLACES = [0.2, 0.4, 0.6, 0.8];

/** Steps that change the raster, which the comparison leaves out. */
const RASTER = ['upscale', 'fit', 'crop', 'trim', 'regrain'];

const without = (plan: Plan, ...treatments: string[]): Plan =>
  mapSteps(plan, (s) => (treatments.includes(s.treatment) ? { ...s, on: false } : s));

/** Rec. 601 luma of what a screen shows, 0 to 255. */
function light(picture: Picture): { width: number; height: number; data: Float32Array } {
  const { width, height } = picture.region;
  const pixels = toScreen(picture);
  const data = new Float32Array(width * height);
  for (let i = 0; i < data.length; i++) data[i] = 0.299 * pixels[4 * i] + 0.587 * pixels[4 * i + 1] + 0.114 * pixels[4 * i + 2];
  return { width, height, data };
}

/** Decibels between a truth and a picture of twice its size, reduced by the mean of four. */
function closeness(truth: Picture, made: Picture): number {
  const small = light(truth),
    large = light(made);
  let error = 0;
  for (let y = 0; y < small.height; y++) {
    for (let x = 0; x < small.width; x++) {
      const i = 2 * y * large.width + 2 * x;
      const mean = (large.data[i] + large.data[i + 1] + large.data[i + large.width] + large.data[i + large.width + 1]) / 4;
      error += (mean - small.data[y * small.width + x]) ** 2;
    }
  }
  return 10 * Math.log10(255 ** 2 / (error / small.data.length));
}

async function itemRows(name: string): Promise<Row[]> {
  const file = demo('media', name);
  const probed = await probe(file);
  const seen = await openSource(file, name, probed, probed.facts.stream);
  const report = await examine(seen);
  const info = { ...probed.facts.stream, fieldOrder: report.measurements.fieldOrder };
  const plan = without(proposePlan(report, info), ...RASTER);
  const truth = await openSource(demo('truth', `${path.parse(name).name}.mp4`), `truth of ${name}`);
  const source = await openSource(file, name, probed, info);
  const judged = async (which: Plan): Promise<number> => {
    const { output } = compile(which, source, { cache: new PictureCache(200 << 20) });
    let sum = 0;
    for (const share of PLACES) {
      const n = Math.floor(share * truth.info.frames);
      sum += closeness(await truth.frame(n, wholeRegion(truth.info)), await output.frame(n, wholeRegion(output.stream)));
    }
    return sum / PLACES.length;
  };
  const bare = await judged(without(plan, 'compression', 'grain', 'focus'));
  const rows = [{ group: GROUP, what: `${name}: fields alone`, shown: `${bare.toFixed(2)} dB` }];
  for (const quality of ['fast', 'best'] as const) {
    const made = await judged(withQuality(plan, quality));
    rows.push({
      group: GROUP,
      what: `${name}: proposed, ${quality}`,
      shown: `${made.toFixed(2)} dB (${made >= bare ? '+' : ''}${(made - bare).toFixed(2)})`,
    });
  }
  for (const open of [seen, truth, source]) open.close?.();
  return rows;
}

/** The demo's tapes, disc and film under the plans that are proposed for them. */
export async function demoItems(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const name of ITEMS) rows.push(...(await itemRows(name)));
  return rows;
}
