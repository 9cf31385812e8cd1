import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { psnr } from '../src/core/metrics/metrics';
import { plainTables } from '../src/core/picture/light';
import { resizePlane } from '../src/core/kernels/enlarge';
import { newPlane, type Plane } from '../src/core/picture/picture';
import type { Plan } from '../src/shared/plan';
import { readPlan } from '../src/core/plan/read';
import { normalStream } from '../src/core/picture/random';
import { openSource } from '../src/media/openSource';
import { probe } from '../src/media/probe';
import { benchClips, interlace } from './clips';
import { rawBytes, rawInput, timed } from './ffmpeg';
import { program } from './program';
import type { Row } from './table';

const GROUP = 'Whole plan: 480i to 1440 x 1080 with grain removed and encoded, against bwdif + nlmeans + lanczos';
const SIZE = { width: 720, height: 480 };
const OUT = { width: 1440, height: 1080 };
/** Two pieces of a render, so that both threads work. */
const FRAMES = 60;
/** Grain put on the clip, of 255. */
const SIGMA = 5;
/** Output frames whose quality is measured: away from the clip's ends. */
const JUDGED = [8, 13, 18, 27];

/** A clip drawn at the size to reach: its reduction, interlaced and grained, is the source; itself the truth. */
function grainyClip(): { source: Plane[]; truth: Plane[] } {
  const truth = benchClips(OUT.width, OUT.height, FRAMES * 2, 'pan')[0].frames;
  const map = { x: { from: OUT.width, to: SIZE.width, siting: 0.5 }, y: { from: OUT.height, to: SIZE.height, siting: 0.5 } };
  const small = truth.map((f) =>
    resizePlane(f, { x: 0, y: 0, ...OUT }, { x: 0, y: 0, ...SIZE }, map, plainTables(), { edges: 0, slack: 10, consistency: 0 }),
  );
  const normal = normalStream(12);
  const source = interlace(small, true).map((f) => ({
    ...f,
    data: f.data.map((v) => Math.min(65535, Math.max(0, Math.round(v + SIGMA * 256 * normal())))),
  }));
  return { source, truth };
}

const planOf = (quality: 'fast' | 'best'): Plan =>
  readPlan({
    format: 'wairetic-plan',
    version: 2,
    steps: [
      { treatment: 'deinterlace', on: true, settings: { quality, order: 'top' } },
      { treatment: 'grain', on: true, settings: { quality, luma: SIGMA, chroma: 1, keep: 0 } },
      { treatment: 'upscale', on: true, settings: { quality, target: '1080p' } },
    ],
  });

async function quality(file: string, truth: Plane[]): Promise<number> {
  const { facts } = await probe(file);
  const source = await openSource(file, file);
  let sum = 0;
  for (const n of JUDGED) {
    const shown = await source.frame(n, { x: 0, y: 0, width: facts.stream.width, height: facts.stream.height });
    sum += psnr(shown.planes[0], truth[n], 255 * 256, 16);
  }
  source.close?.();
  return sum / JUDGED.length;
}

/** Both ways end in the same encoder at the same quality, on two threads; ours also examines the clip and starts a program. */
export async function wholePlan(work: string): Promise<Row[]> {
  const { source, truth } = grainyClip();
  const grey = newPlane(SIZE.width / 2, SIZE.height / 2, 32768);
  const raw = path.join(work, 'plan.yuv'),
    clip = path.join(work, 'plan.mkv');
  writeFileSync(raw, rawBytes(source.map((luma) => [luma, grey, grey])));
  timed([
    ...rawInput('yuv420p', SIZE.width, SIZE.height, raw),
    '-vf',
    'setsar=8/9,setfield=tff',
    '-c:v',
    'ffv1',
    '-level',
    '3',
    '-flags',
    '+ildct+ilme',
    '-top',
    '1',
    '-colorspace',
    'smpte170m',
    clip,
  ]);
  const encoder = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '16', '-pix_fmt', 'yuv420p', '-threads', '2'];
  const plans = { fast: path.join(work, 'fast.json'), best: path.join(work, 'best.json') };
  for (const quality of ['fast', 'best'] as const) writeFileSync(plans[quality], JSON.stringify(planOf(quality)));
  const treat = (quality: 'fast' | 'best', own: string): number => program('treat', clip, '--plan', plans[quality], '--out', own);
  // What comes once, however long a film is.
  const examined = program('inspect', clip);
  const each = (seconds: number): number => (seconds - examined) / (FRAMES * 2);
  const theirs = path.join(work, 'theirs.mkv');
  const chain = `setfield=tff,bwdif=mode=send_field,nlmeans,scale=${OUT.width}:${OUT.height}:flags=lanczos:in_color_matrix=bt601:out_color_matrix=bt709,setsar=1`;
  const runs = [];
  for (let n = 0; n < 3; n++) {
    const own = path.join(work, `own${n}.mp4`);
    const ours = treat('fast', own);
    const base = timed(['-filter_threads', '2', '-threads', '2', '-i', clip, '-vf', chain, ...encoder, theirs]);
    runs.push({ ours, base, ratio: base / ours });
  }
  const { ours, base, ratio } = runs.sort((a, b) => a.ratio - b.ratio)[1];
  const mine = await quality(path.join(work, 'own0.mp4'), truth),
    other = await quality(theirs, truth);
  const bestFile = path.join(work, 'best.mp4');
  const fastSeconds = each(ours),
    bestSeconds = each(treat('best', bestFile)),
    bestQuality = await quality(bestFile, truth);
  const fps = (seconds: number): string => ((FRAMES * 2) / seconds).toFixed(2);
  return [
    {
      group: GROUP,
      what: 'speed, two threads, frames out a second',
      shown: `${fps(ours)} / ${fps(base)} = ${ratio.toFixed(2)}`,
      value: ratio,
      atLeast: 1,
      timed: true,
    },
    {
      group: GROUP,
      what: 'PSNR against the truth',
      shown: `${mine.toFixed(2)} dB (${mine >= other ? '+' : ''}${(mine - other).toFixed(2)})`,
      value: mine - other,
      atLeast: 0,
    },
    {
      group: GROUP,
      what: 'fast, seconds a frame out once examined, two threads',
      shown: `${fastSeconds.toFixed(3)} s`,
      value: fastSeconds,
      atMost: 0.12,
      timed: true,
    },
    {
      group: GROUP,
      what: 'best, seconds a frame out once examined, two threads',
      shown: `${bestSeconds.toFixed(3)} s`,
      value: bestSeconds,
      atMost: 1,
      timed: true,
    },
    {
      group: GROUP,
      what: 'best, PSNR against the truth',
      shown: `${bestQuality.toFixed(2)} dB (${bestQuality >= other ? '+' : ''}${(bestQuality - other).toFixed(2)})`,
      value: bestQuality - mine,
      atLeast: 0,
    },
  ];
}
