import { SAME_PLACE } from '../src/shared/maps/place';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { psnr, ssim } from '../src/core/metrics/metrics';
import { fillFields } from '../src/core/kernels/deinterlace';
import { fillBest } from '../src/core/networks/fields';
import { newPlane, wholeRegion, type Picture, type Plane } from '../src/core/picture/picture';
import { deinterlace, DeinterlaceSettings } from '../src/core/treatments/deinterlace/deinterlace';
import { streamInfo } from '../src/core/testing/pictures';
import { benchClips, interlace } from './clips';
import { filterGrey, filterSpeed, rawBytes } from './ffmpeg';
import type { Row } from './table';

const GROUP = 'Deinterlace, 720 x 480 to double rate, against bwdif';
const SIZE = { width: 720, height: 480 };
/** Fields a clip; those at its ends have no neighbours and are left out of the figures. */
const FIELDS = 16;
const ENDS = 4;

/** Mean PSNR and SSIM of frames against the truth. */
function quality(made: Plane[], truth: Plane[]): { psnr: number; ssim: number } {
  const used = made.map((_, n) => n).slice(ENDS, -ENDS);
  const mean = (of: (a: Plane, b: Plane) => number): number => used.reduce((sum, n) => sum + of(made[n], truth[n]), 0) / used.length;
  return { psnr: mean((a, b) => psnr(a, b, 255 * 256, 8)), ssim: mean((a, b) => ssim(a, b, 255 * 256)) };
}

export async function deinterlaceQuality(work: string): Promise<Row[]> {
  const rows: Row[] = [];
  let gain = 0,
    bestGain = 0,
    similar = 0;
  const clips = benchClips(SIZE.width, SIZE.height, FIELDS);
  for (const { name, frames } of clips) {
    const woven = interlace(frames, true);
    const own = woven.flatMap((_, n) =>
      fillFields([woven[Math.max(0, n - 1)], woven[n], woven[Math.min(woven.length - 1, n + 1)]], true, { motion: true, edges: true }),
    );
    const best = quality(await bestFields(woven), frames);
    const base = quality(filterGrey(woven, 'setfield=tff,bwdif=mode=send_field', SIZE, work), frames),
      ours = quality(own, frames);
    gain += (ours.psnr - base.psnr) / clips.length;
    similar += (ours.ssim - base.ssim) / clips.length;
    rows.push({
      group: GROUP,
      what: `${name}, PSNR`,
      shown: `${ours.psnr.toFixed(2)} dB (${signed(ours.psnr - base.psnr, 2)})`,
      value: ours.psnr - base.psnr,
      atLeast: 0,
    });
    bestGain += (best.psnr - base.psnr) / clips.length;
    rows.push({
      group: GROUP,
      what: `${name}, best, PSNR`,
      shown: `${best.psnr.toFixed(2)} dB (${signed(best.psnr - base.psnr, 2)})`,
      value: best.psnr - base.psnr,
      atLeast: 0.3,
    });
    rows.push({
      group: GROUP,
      what: `${name}, SSIM`,
      shown: `${ours.ssim.toFixed(4)} (${signed(ours.ssim - base.ssim, 4)})`,
      value: ours.ssim - base.ssim,
      atLeast: 0,
    });
  }
  rows.push({ group: GROUP, what: 'average gain, PSNR', shown: `${signed(gain, 2)} dB`, value: gain, atLeast: 0.3 });
  rows.push({ group: GROUP, what: 'average gain of best, PSNR', shown: `${signed(bestGain, 2)} dB`, value: bestGain, atLeast: 1.5 });
  rows.push({ group: GROUP, what: 'average gain, SSIM', shown: signed(similar, 4), value: similar, atLeast: 0.0001 });
  return rows;
}

/** The best choice, luma and chroma, against the slowest of ffmpeg's own deinterlacers. */
async function bestSpeed(frames: Picture[], file: string): Promise<Row> {
  const luma = frames.map((f) => f.planes[0]);
  await bestFields(luma.slice(0, 2));
  const start = performance.now();
  await bestFields(luma.slice(2, 8));
  const own = 12000 / (performance.now() - start);
  const base = filterSpeed('yuv420p', SIZE.width, SIZE.height, file, frames.length, 'setfield=tff,estdif=mode=field', [0, 2]) * 2;
  return {
    group: GROUP,
    what: 'speed of best, one thread, frames out a second; estdif',
    shown: `${own.toFixed(1)} / ${base.toFixed(1)} = ${(own / base).toFixed(2)}`,
    value: own / base,
    atLeast: 0.2,
    timed: true,
  };
}

/** The best choice over woven frames, frame by frame as the program does it. */
async function bestFields(woven: Plane[]): Promise<Plane[]> {
  const out: Plane[] = [];
  for (const [n, frame] of woven.entries()) {
    const three: [Plane, Plane, Plane] = [woven[Math.max(0, n - 1)], frame, woven[Math.min(woven.length - 1, n + 1)]];
    const fast = fillFields(three, true, { motion: true, edges: true });
    for (const second of [false, true]) out.push(await fillBest(three, fast[second ? 1 : 0], second, true, wholeRegion(frame)));
  }
  return out;
}

const signed = (v: number, digits: number): string => `${v >= 0 ? '+' : ''}${v.toFixed(digits)}`;

/** 4:2:0 frames of the pan clip with its own luma, coarser, as chroma. */
export function colourFrames(count: number): Picture[] {
  const [pan] = benchClips(SIZE.width, SIZE.height, count * 2);
  const info = streamInfo({
    ...SIZE,
    frames: count,
    fieldOrder: 'top-first',
    rate: { num: 30000, den: 1001 },
    pixelAspect: { num: 8, den: 9 },
  });
  return interlace(pan.frames, true).map((luma) => {
    const chroma = newPlane(SIZE.width / 2, SIZE.height / 2);
    chroma.data.forEach((_, i) => (chroma.data[i] = luma.data[Math.floor(i / 360) * 2 * 720 + (i % 360) * 2]));
    return { info, region: { x: 0, y: 0, ...SIZE }, planes: [luma, chroma, { ...chroma, data: chroma.data.slice() }] };
  });
}

export async function deinterlaceSpeed(work: string): Promise<Row[]> {
  const frames = colourFrames(12);
  const file = path.join(work, 'clip.yuv');
  writeFileSync(file, rawBytes(frames.map((f) => f.planes)));
  const settings = new DeinterlaceSettings();
  const input = frames[0].info,
    output = deinterlace.output(input, settings);
  const region = { x: 0, y: 0, ...SIZE };
  const once = async (rounds: number): Promise<number> => {
    const start = performance.now();
    for (let r = 0; r < rounds; r++) {
      for (let n = 1; n + 1 < frames.length; n++) {
        const pairs = new Map<string, unknown>();
        const share = <T>(make: () => T): T => {
          if (!pairs.has('')) pairs.set('', make());
          return pairs.get('') as T;
        };
        for (const frame of [2 * n, 2 * n + 1])
          await deinterlace.apply(frames.slice(n - 1, n + 2), settings, {
            frame,
            seen: [n - 1, n, n + 1],
            region,
            asked: region,
            input,
            output,
            marks: [],
            place: SAME_PLACE,
            analyses: {},
            pictures: {},
            share,
          });
      }
    }
    return (rounds * 2 * (frames.length - 2) * 1000) / (performance.now() - start);
  };
  await once(4);
  // Turn by turn, so that a busy moment of the machine meets both.
  const ratios: { own: number; base: number; ratio: number }[] = [];
  for (let n = 0; n < 5; n++) {
    const base = 2 * filterSpeed('yuv420p', SIZE.width, SIZE.height, file, frames.length, 'setfield=tff,bwdif=mode=send_field', [2, 40]);
    const own = await once(10);
    ratios.push({ own, base, ratio: own / base });
  }
  const { own, base, ratio } = ratios.sort((a, b) => a.ratio - b.ratio)[2];
  return [
    {
      group: GROUP,
      what: 'speed, one thread, frames out a second',
      shown: `${own.toFixed(0)} / ${base.toFixed(0)} = ${ratio.toFixed(2)}`,
      value: ratio,
      atLeast: 0.3,
      timed: true,
    },
    await bestSpeed(frames, file),
  ];
}
