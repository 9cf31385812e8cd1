import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import type { Plane } from '../src/core/picture/picture';
import { filterGrey, rawBytes, rawInput } from './ffmpeg';
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
  const judge = async (name: string, clips: Plane[][], truths: Plane[][], step: number): Promise<void> => {
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
    rows.push(...compare(GROUP, name, { best, fast }, base, 0));
  };
  const stills = heldStills();
  const single = (planes: Plane[]): Plane[][] => planes.map((p) => [p]);
  for (const quality of [30, 40, 50])
    await judge(`JPEG ${quality}`, single(await throughJpeg(stills, quality)), single(stills), jpegStep(quality));
  const clips = heldClips();
  for (const [name, encoder, step] of [
    ['MPEG-2, quantiser 10', ['-c:v', 'mpeg2video', '-qscale:v', '10', '-g', '12', '-bf', '2'], 22],
    // Two fifths of its step, as the networks are taught (training/coded.py).
    ['H.264, quantiser 34', ['-c:v', 'libx264', '-qp', '34', '-g', '12'], 13],
  ] as const) {
    const coded = clips.map((clip) => throughVideo(clip, [...encoder], work));
    await judge(name, coded, clips, step);
  }
  rows.push(average(GROUP, gains, 0.5));
  return rows;
}
