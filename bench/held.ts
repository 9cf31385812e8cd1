import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { psnr, ssim } from '../src/core/metrics/metrics';
import { wholeRegion, type Picture, type Plane, type StreamInfo } from '../src/core/picture/picture';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import { readPlan } from '../src/core/plan/read';
import { streamInfo } from '../src/core/testing/pictures';

const FOLDER = process.env.WAIRETIC_TRAINING ?? path.resolve(import.meta.dirname, '../training/made');

/** Sizes as `training/heldOut.py` writes them. */
export const STILL = { width: 288, height: 288 };
export const CLIP = { width: 320, height: 256, frames: 9 };

function planes(file: string, width: number, height: number): Plane[] {
  const at = path.join(FOLDER, file);
  if (!existsSync(at))
    throw new Error(`${at} is missing: the bench of the networks needs held-out pictures; "./run train held-out" makes them`);
  const bytes = readFileSync(at);
  const size = width * height;
  return Array.from({ length: bytes.length / size }, (_, n) => ({
    width,
    height,
    data: Uint16Array.from(bytes.subarray(n * size, (n + 1) * size), (v) => v << 8),
  }));
}

/** Photographs no network has seen, luma. */
export const heldStills = (): Plane[] => planes('held-stills.gray', STILL.width, STILL.height);

/** Moving layers of such photographs, luma. */
export function heldClips(): Plane[][] {
  const all = planes('held-clips.gray', CLIP.width, CLIP.height);
  return Array.from({ length: all.length / CLIP.frames }, (_, n) => all.slice(n * CLIP.frames, (n + 1) * CLIP.frames));
}

/** A full-range monochrome stream of such planes. */
export const greyStream = (plane: Plane, frames: number): StreamInfo =>
  streamInfo({
    width: plane.width,
    height: plane.height,
    frames,
    planes: 1,
    fieldOrder: 'progressive',
    pixelAspect: { num: 1, den: 1 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'video', primaries: 'smpte170m' },
  });

/** The frames after one treatment, as the program itself runs it. */
export async function treated(frames: Plane[], treatment: string, settings: Record<string, unknown>, still = false): Promise<Plane[]> {
  if (still) {
    const out: Plane[] = [];
    for (const frame of frames) out.push(...(await treated([frame], treatment, settings)));
    return out;
  }
  const info = greyStream(frames[0], frames.length);
  const source = {
    info,
    key: `${treatment}${Math.random()}`,
    frame: (n: number): Promise<Picture> => Promise.resolve({ info, region: wholeRegion(info), planes: [frames[n]] }),
  };
  const plan = readPlan({ format: 'wairetic-plan', version: 2, steps: [{ treatment, on: true, settings }] });
  const { output } = compile(plan, source, { cache: new PictureCache(200 << 20) });
  const out: Plane[] = [];
  for (let n = 0; n < output.stream.frames; n++) out.push((await output.frame(n, wholeRegion(output.stream))).planes[0]);
  return out;
}

export const PEAK = 255 * 256;

/** Mean PSNR and SSIM of frames against their truth, a border of 8 left out. */
export function closeness(made: Plane[], truth: Plane[]): { psnr: number; ssim: number } {
  const mean = (of: (a: Plane, b: Plane) => number): number => made.reduce((sum, f, n) => sum + of(f, truth[n]), 0) / made.length;
  return { psnr: mean((a, b) => psnr(a, b, PEAK, 8)), ssim: mean((a, b) => ssim(a, b, PEAK)) };
}

/** The best of several ffmpeg filters, each tried at all its settings. */
export function bestFilter(
  candidates: Record<string, string[]>,
  run: (filter: string) => Plane[],
  truth: Plane[],
): { name: string; psnr: number; ssim: number } {
  let best = { name: '', psnr: -Infinity, ssim: 0 };
  for (const filters of Object.values(candidates)) {
    for (const filter of filters) {
      const found = closeness(run(filter), truth);
      if (found.psnr > best.psnr) best = { name: filter, ...found };
    }
  }
  return best;
}
