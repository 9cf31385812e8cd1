import { writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { examine } from '../src/core/condition/examine';
import { LIKELY, SURE, type ConditionReport } from '../src/core/condition/report';
import { wholeRegion, type FieldOrder, type Picture, type Plane } from '../src/core/picture/picture';
import type { FrameSource } from '../src/core/graph/node';
import { proposePlan } from '../src/core/plan/plan';
import { streamInfo } from '../src/core/testing/pictures';
import { openSource } from '../src/media/openSource';
import { benchClips, combClips, interlace } from './clips';
import { jpegStep } from './coding';
import { grainy } from './grain';
import { cleanPictures, grainyRgb, halved, sharpOf, type Rgb } from './material';
import type { Row } from './table';

const GROUP = 'Condition report: what is called sure, over pictures and clips whose damage is known';
/** Octaves of 1 + a figure that a reading may be off and still be right, and more for the quantiser step, whose tables differ. */
const RIGHT = 0.5,
  RIGHT_STEP = 0.75;
/** A proposal of so much at most, where it is unsure, is mild; and one of no more than there is. */
const MILD = 3;

/** One reading held against what was done. */
interface Verdict {
  what: 'grain' | 'step' | 'fields';
  confidence: number;
  right: boolean;
  /** How much there is of what was read, and how strongly a step that answers it is proposed; 0 for off. */
  there: number;
  proposed: number;
}

const octavesOff = (read: number, truth: number): number => Math.abs(Math.log2((1 + read) / (1 + truth)));

function grainVerdict({ measurements: m }: ConditionReport, sigma: number, proposed: number): Verdict {
  return { what: 'grain', confidence: m.grainConfidence, right: octavesOff(m.grainLuma, sigma) <= RIGHT, there: sigma, proposed };
}

/** Strength a step of the proposed plan is switched on with, 0 where it is off. */
function strength(report: ConditionReport, source: FrameSource, treatment: string, setting: string): number {
  const step = proposePlan(report, source.info).steps.find((s) => s.treatment === treatment);
  return step?.on ? Number(step.settings[setting]) : 0;
}

/** Grain and coding a picture is given in turn: as JPEG files tell their step, the coded ones come as PNG. */
const DAMAGES = [
  { sigma: 0, size: 0, quality: 0 },
  { sigma: 3, size: 0, quality: 0 },
  { sigma: 7, size: 0.6, quality: 0 },
  { sigma: 13, size: 0, quality: 0 },
  { sigma: 0, size: 0, quality: 35 },
  { sigma: 5, size: 0, quality: 60 },
  { sigma: 10, size: 0.9, quality: 0 },
  { sigma: 0, size: 0, quality: 75 },
];
/** Damages each picture is given beside none. */
const EACH = 3;

async function stillVerdicts(work: string): Promise<Verdict[]> {
  const verdicts: Verdict[] = [];
  const file = path.join(work, 'still.png');
  for (const [n, { truth }] of (await cleanPictures()).entries()) {
    const clean = halved(truth);
    const chosen = [0, ...Array.from({ length: EACH }, (_, k) => 1 + ((n * EACH + k) % (DAMAGES.length - 1)))];
    for (const { sigma, size, quality } of chosen.map((i) => DAMAGES[i])) {
      writeFileSync(file, await damaged(clean, sigma, size, quality, n));
      const source = await openSource(file, `${n}/${sigma}/${size}/${quality}`);
      const report = await examine(source);
      verdicts.push(grainVerdict(report, sigma, strength(report, source, 'grain', 'luma')));
      const { coding, codingConfidence } = report.measurements;
      const there = quality ? jpegStep(quality) : 0;
      verdicts.push({
        what: 'step',
        confidence: codingConfidence,
        right: octavesOff(coding, there) <= RIGHT_STEP,
        there,
        proposed: strength(report, source, 'compression', 'coding'),
      });
    }
  }
  return verdicts;
}

async function damaged(clean: Rgb, sigma: number, size: number, quality: number, seed: number): Promise<Buffer> {
  const grain = sigma ? grainyRgb(clean, sigma, size, seed + 1) : clean;
  const picture = sharpOf(grain);
  return quality
    ? sharp(await picture.jpeg({ quality }).toBuffer())
        .png()
        .toBuffer()
    : picture.png().toBuffer();
}

const SIZE = { width: 360, height: 480 };
const FIELDS = 24;

async function clipVerdicts(): Promise<Verdict[]> {
  const verdicts: Verdict[] = [];
  const clips = [...benchClips(SIZE.width, SIZE.height, FIELDS), ...combClips(SIZE.width, SIZE.height, FIELDS)];
  for (const [n, { name, frames }] of clips.entries()) {
    for (const order of ['progressive', 'top-first', 'bottom-first'] as const) {
      const sigma = [0, 4, 10][(n + order.length) % 3];
      const woven = order === 'progressive' ? frames.slice(0, FIELDS / 2) : interlace(frames, order === 'top-first');
      const source = clipOf(sigma ? grainy(woven, { sigma, size: 0, film: false }, n) : woven, `${name}/${order}`);
      const report = await examine(source);
      const { scan, fieldOrder, scanConfidence } = report.measurements;
      // What stands still may be said to be undecided.
      const right =
        scan === 'unknown' || (order === 'progressive' ? scan === 'progressive' : scan === 'interlaced' && fieldOrder === order);
      verdicts.push({ what: 'fields', confidence: scanConfidence, right, there: 0, proposed: 0 });
      verdicts.push(grainVerdict(report, sigma, strength(report, source, 'grain', 'luma')));
    }
  }
  return verdicts;
}

function clipOf(frames: Plane[], key: string): FrameSource {
  const fieldOrder: FieldOrder = 'progressive';
  const info = streamInfo({ ...SIZE, frames: frames.length, planes: 1, fieldOrder });
  return { info, key, frame: (n): Promise<Picture> => Promise.resolve({ info, region: wholeRegion(info), planes: [frames[n]] }) };
}

function rowsOf(of: string, verdicts: Verdict[]): Row[] {
  const rows: Row[] = [];
  for (const what of new Set(verdicts.map((v) => v.what))) {
    const all = verdicts.filter((v) => v.what === what),
      sure = all.filter((v) => v.confidence >= SURE),
      unsure = all.filter((v) => v.confidence < LIKELY);
    const right = sure.filter((v) => v.right).length / Math.max(1, sure.length);
    rows.push({
      group: GROUP,
      what: `${of}, ${what}: called sure, and right`,
      shown: `${sure.length} of ${all.length}; ${(100 * right).toFixed(1)} %`,
      value: right,
      atLeast: 0.98,
    });
    if (what === 'fields') continue;
    const harsh = unsure.filter((v) => v.proposed > Math.max(MILD, v.there)).length;
    rows.push({
      group: GROUP,
      what: `${of}, ${what}: called unsure, and proposed stronger than it is and than mildly`,
      shown: `${unsure.length}; ${harsh}`,
      value: harsh,
      atMost: 0,
    });
  }
  return rows;
}

export async function calibration(work: string): Promise<Row[]> {
  const stills = await stillVerdicts(work);
  return [...rowsOf('stills', stills), ...rowsOf('clips', await clipVerdicts())];
}
