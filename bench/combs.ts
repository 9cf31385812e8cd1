import { execFileSync } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { combPixels, strayPixels } from '../src/core/metrics/combs';
import { psnr } from '../src/core/metrics/metrics';
import { newPlane, wholeRegion, type Picture, type Plane } from '../src/core/picture/picture';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import { readPlan } from '../src/core/plan/read';
import { streamInfo } from '../src/core/testing/pictures';
import { benchClips, combClips, interlace, type Clip } from './clips';
import { rawBytes, rawInput } from './ffmpeg';
import type { Row } from './table';

const GROUP =
  'Deinterlace, combs and stray lines (pixels a frame: spike up beside spike down, three in a run, 16 codes; spikes that the truth has not) and chroma, against bwdif';
const SIZE = { width: 720, height: 480 };
const COARSE = { width: 360, height: 240 };
/** Fields a clip; those at its ends have no neighbours and are left out of the figures. */
const FIELDS = 14;
const ENDS = 4;

const PEAK = 255 * 256;

/** Luma, and chroma planes of half its size whose edges lie where those of the luma do. */
function coloured(luma: Plane): Plane[] {
  const tones = [200, 130].map((period) => Float64Array.from({ length: 256 }, (_, v) => 128 + 80 * Math.sin((2 * Math.PI * v) / period)));
  return [
    luma,
    ...tones.map((tone) => {
      const plane = newPlane(COARSE.width, COARSE.height);
      plane.data.forEach((_, i) => {
        const at = Math.floor(i / COARSE.width) * 2 * SIZE.width + (i % COARSE.width) * 2;
        const sum = [0, 1, SIZE.width, SIZE.width + 1].reduce((total, d) => total + tone[luma.data[at + d] >> 8], 0);
        plane.data[i] = Math.round(sum / 4) << 8;
      });
      return plane;
    }),
  ];
}

/** Both planes' fields, woven: chroma lines alternate as luma's do. */
const woven = (frames: Plane[][]): Plane[][] => {
  const planes = [0, 1, 2].map((index) =>
    interlace(
      frames.map((f) => f[index]),
      true,
    ),
  );
  return planes[0].map((_, n) => planes.map((of) => of[n]));
};

function bwdif(frames: Plane[][], work: string): Plane[][] {
  const input = path.join(work, 'in.yuv'),
    output = path.join(work, 'out.yuv');
  writeFileSync(input, rawBytes(frames));
  const filter = ['-vf', 'setfield=tff,bwdif=mode=send_field', '-f', 'rawvideo', output];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...rawInput('yuv420p', SIZE.width, SIZE.height, input), ...filter]);
  const bytes = readFileSync(output);
  rmSync(output);
  const luma = SIZE.width * SIZE.height,
    size = luma * 1.5;
  const plane = (from: number, of: typeof SIZE): Plane => ({
    ...of,
    data: Uint16Array.from(bytes.subarray(from, from + of.width * of.height), (v) => v << 8),
  });
  return Array.from({ length: bytes.length / size }, (_, n) => [
    plane(n * size, SIZE),
    plane(n * size + luma, COARSE),
    plane(n * size + luma * 1.25, COARSE),
  ]);
}

/** What the program makes of interlaced frames. */
async function ours(frames: Plane[][], quality: string): Promise<Plane[][]> {
  const info = streamInfo({
    ...SIZE,
    frames: frames.length,
    fieldOrder: 'top-first',
    rate: { num: 30000, den: 1001 },
    pixelAspect: { num: 8, den: 9 },
  });
  const source = {
    info,
    key: `${quality}${Math.random()}`,
    frame: (n: number): Promise<Picture> => Promise.resolve({ info, region: wholeRegion(info), planes: frames[n] }),
  };
  const plan = readPlan({ format: 'wairetic-plan', version: 2, steps: [{ treatment: 'deinterlace', on: true, settings: { quality } }] });
  const { output } = compile(plan, source, { cache: new PictureCache(64 << 20) });
  const out: Plane[][] = [];
  for (let n = 0; n < output.stream.frames; n++) out.push((await output.frame(n, wholeRegion(output.stream))).planes);
  return out;
}

interface Figures {
  combs: number;
  chromaCombs: number;
  stray: number;
  luma: number;
  chroma: number;
}

function figures(made: Plane[][], truth: Plane[][]): Figures {
  const used = made.map((_, n) => n).slice(ENDS, -ENDS);
  const mean = (of: (made: Plane[], truth: Plane[]) => number): number =>
    used.reduce((sum, n) => sum + of(made[n], truth[n]), 0) / used.length;
  return {
    combs: mean((m) => combPixels(m[0])),
    chromaCombs: mean((m) => combPixels(m[1]) + combPixels(m[2])),
    stray: mean((m, t) => strayPixels(m[0], t[0])),
    luma: mean((m, t) => psnr(m[0], t[0], PEAK, 8)),
    chroma: mean((m, t) => (psnr(m[1], t[1], PEAK, 8) + psnr(m[2], t[2], PEAK, 8)) / 2),
  };
}

const signed = (v: number): string => `${v >= 0 ? '+' : ''}${v.toFixed(2)}`;

/** Rows of one clip; what is gained in chroma by fast and best. */
export async function clipRows(
  { name, frames }: Clip,
  work: string,
  qualities = ['fast', 'best'],
): Promise<{ rows: Row[]; chroma: [number, number] }> {
  const truth = frames.map(coloured);
  const fields = woven(truth);
  const base = figures(bwdif(fields, work), truth);
  const known = figures(truth, truth);
  const rows: Row[] = [];
  const gains: number[] = [];
  for (const quality of qualities) {
    const made = figures(await ours(fields, quality), truth);
    gains.push(made.chroma - base.chroma);
    rows.push({
      group: GROUP,
      what: `${name}, ${quality}: combs; bwdif; truth`,
      shown: `${made.combs.toFixed(1)}; ${base.combs.toFixed(1)}; ${known.combs.toFixed(1)}`,
      value: made.combs,
      // What the truth has is no comb.
      atMost: Math.max(base.combs, known.combs),
    });
    rows.push({
      group: GROUP,
      what: `${name}, ${quality}: coloured combs; bwdif; truth`,
      shown: `${made.chromaCombs.toFixed(1)}; ${base.chromaCombs.toFixed(1)}; ${known.chromaCombs.toFixed(1)}`,
      value: made.chromaCombs,
      atMost: Math.max(base.chromaCombs, known.chromaCombs),
    });
    rows.push({
      group: GROUP,
      what: `${name}, ${quality}: stray lines; bwdif`,
      shown: `${made.stray.toFixed(0)}; ${base.stray.toFixed(0)}`,
      value: made.stray,
      atMost: Math.ceil(base.stray),
    });
    rows.push({
      group: GROUP,
      what: `${name}, ${quality}: luma, chroma over bwdif`,
      shown: `${signed(made.luma - base.luma)} dB, ${signed(made.chroma - base.chroma)} dB`,
    });
  }
  return { rows, chroma: [gains[0], gains[1]] };
}

export async function deinterlaceCombs(work: string): Promise<Row[]> {
  const clips = [...benchClips(SIZE.width, SIZE.height, FIELDS), ...combClips(SIZE.width, SIZE.height, FIELDS)];
  const rows: Row[] = [];
  const total = [0, 0];
  for (const clip of clips) {
    const made = await clipRows(clip, work);
    rows.push(...made.rows);
    made.chroma.forEach((gain, i) => (total[i] += gain / clips.length));
  }
  for (const [i, quality] of ['fast', 'best'].entries())
    rows.push({ group: GROUP, what: `chroma, average gain of ${quality}`, shown: `${signed(total[i])} dB`, value: total[i], atLeast: 1 });
  return rows;
}
