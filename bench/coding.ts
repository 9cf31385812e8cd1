import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import type { Plane } from '../src/core/picture/picture';
import { filterGrey, filterSpeed, rawBytes, rawInput } from './ffmpeg';
import { average } from './grain';
import { bestFilter, closeness, heldClips, heldStills, treated } from './held';
import { compare, type Row } from './table';

const GROUP = 'Compression';

/** Grey planes through JPEG and back. */
export async function throughJpeg(planes: Plane[], quality: number): Promise<Plane[]> {
  return Promise.all(
    planes.map(async (plane) => {
      const raw = { width: plane.width, height: plane.height, channels: 1 as const };
      const file = await sharp(rawBytes([[plane]]), { raw })
        .jpeg({ quality })
        .toBuffer();
      const { data } = await sharp(file).greyscale().raw().toBuffer({ resolveWithObject: true });
      return { ...plane, data: Uint16Array.from(data, (v) => v << 8) };
    }),
  );
}

/** A clip through a video codec and back, luma only. */
function throughVideo(planes: Plane[], encoder: string[], work: string): Plane[] {
  const { width, height } = planes[0];
  const input = path.join(work, 'plain.raw'),
    coded = path.join(work, 'coded.mkv'),
    output = path.join(work, 'decoded.raw');
  writeFileSync(input, rawBytes(planes.map((p) => [p])));
  const quiet = ['-v', 'error', '-y'];
  execFileSync('ffmpeg', [
    ...quiet,
    ...rawInput('gray', width, height, input),
    '-vf',
    'scale=in_range=pc:out_range=pc,format=yuv420p',
    ...encoder,
    coded,
  ]);
  execFileSync('ffmpeg', [...quiet, '-i', coded, '-vf', 'extractplanes=y', '-f', 'rawvideo', '-pix_fmt', 'gray', output]);
  const bytes = readFileSync(output),
    size = width * height;
  return planes.map((p, n) => ({ ...p, data: Uint16Array.from(bytes.subarray(n * size, (n + 1) * size), (v) => v << 8) }));
}

/** ffmpeg's own remedies, each at several settings. */
const REMEDIES = {
  pp: ['pp=hb/vb/dr', 'pp=hb/vb/dr/al', 'pp=ha/va/dr'],
  spp: [3, 6, 10, 16, 24].map((qp) => `spp=quality=5:qp=${qp}`),
  deblock: [0.05, 0.1, 0.15].map((a) => `deblock=filter=strong:block=8:alpha=${a}:beta=${a / 2}:gamma=${a / 2}:delta=${a / 2}`),
};

/** Quantiser step of libjpeg's quality for low frequencies of luma (ITU-T T.81, Annex K). */
export const jpegStep = (quality: number): number => 12.3 * (quality < 50 ? 50 / quality : 2 - quality / 50);

export async function compressionQuality(work: string): Promise<Row[]> {
  const rows: Row[] = [];
  const gains: number[] = [];
  /** Clips of several frames, or stills as clips of one. */
  const judge = async (name: string, clips: Plane[][], truths: Plane[][], step: number, atLeast: number): Promise<void> => {
    const coded = clips.flat(),
      truth = truths.flat();
    const base = bestFilter(REMEDIES, (filter) => filterGrey(coded, filter, coded[0], work), truth);
    const run = async (quality: string): Promise<{ psnr: number; ssim: number }> => {
      const made: Plane[] = [];
      for (const clip of clips) made.push(...(await treated(clip, 'compression', { quality, coding: step, keep: 0 })));
      return closeness(made, truth);
    };
    const best = await run('best'),
      fast = await run('fast');
    gains.push(best.psnr - base.psnr);
    rows.push({ group: GROUP, what: `${name}: untreated`, shown: `${closeness(coded, truth).psnr.toFixed(2)} dB` });
    rows.push(...compare(GROUP, name, { best, fast }, base, atLeast, 0));
  };
  const stills = heldStills();
  const single = (planes: Plane[]): Plane[][] => planes.map((p) => [p]);
  for (const quality of [30, 40, 50])
    await judge(`JPEG ${quality}`, single(await throughJpeg(stills, quality)), single(stills), jpegStep(quality), 0.5);
  const clips = heldClips();
  // Of H.264 two fifths of its step, as the networks are taught (training/coded.py).
  for (const [name, encoder, step, atLeast] of [
    ['MPEG-2, quantiser 10', ['-c:v', 'mpeg2video', '-qscale:v', '10', '-g', '12', '-bf', '2'], 22, 0.5],
    ['MPEG-2, quantiser 16', ['-c:v', 'mpeg2video', '-qscale:v', '16', '-g', '12', '-bf', '2'], 35, 0.5],
    ['H.264, quantiser 34', ['-c:v', 'libx264', '-qp', '34', '-g', '12'], 13, 0.3],
    ['H.264, rate factor 38', ['-c:v', 'libx264', '-crf', '38', '-g', '12'], 22, 0.3],
  ] as const) {
    const coded = clips.map((clip) => throughVideo(clip, [...encoder], work));
    await judge(name, coded, clips, step, atLeast);
  }
  rows.push(average(GROUP, gains, 0.5));
  return rows;
}

/** Frames a second of the fast choice against the best of ffmpeg's remedies, one thread each. */
export async function compressionSpeed(work: string): Promise<Row[]> {
  const clip = heldClips()[0];
  const all = Array.from({ length: 8 }, () => clip).flat();
  const run = (): Promise<Plane[]> => treated(all, 'compression', { quality: 'fast', coding: 22, keep: 0 });
  await run();
  const start = performance.now();
  await run();
  const own = (1000 * all.length) / (performance.now() - start);
  const file = path.join(work, 'coding.raw');
  writeFileSync(file, rawBytes(clip.map((p) => [p])));
  const base = filterSpeed('gray', clip[0].width, clip[0].height, file, clip.length, 'spp=quality=5:qp=6', [20, 100]);
  const shown = `${own.toFixed(0)} / ${base.toFixed(0)} = ${(own / base).toFixed(2)}`;
  return [{ group: GROUP, what: 'speed, one thread, frames a second; spp', shown, value: own / base, atLeast: 3, timed: true }];
}
