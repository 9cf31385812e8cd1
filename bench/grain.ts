import { noiseField, Random } from './noise';
import type { Plane } from '../src/core/picture/picture';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { filterGrey, filterSpeed, rawBytes } from './ffmpeg';
import { bestFilter, closeness, heldClips, heldStills, treated } from './held';
import { compare, type Row } from './table';

/** Grain to remove: its name, deviation in codes, radius in pixels, and whether it follows the lightness as film's does. */
const GRAINS = [
  { name: 'gaussian 10', sigma: 10, size: 0, film: false },
  { name: 'gaussian 20', sigma: 20, size: 0, film: false },
  { name: 'film grain', sigma: 10, size: 0.6, film: true },
];

/** Grain of its own in every frame. */
export function grainy(frames: Plane[], { sigma, size, film }: { sigma: number; size: number; film: boolean }, seed: number): Plane[] {
  return frames.map((frame, n) => {
    const noise = noiseField(frame.width, frame.height, size, new Random(seed + 97 * n));
    const data = frame.data.map((v, i) => {
      const level = v / 65280;
      const gain = film ? 0.4 + 2.4 * level * (1 - level) : 1;
      return Math.min(65280, Math.max(0, Math.round((v + sigma * gain * noise[i] * 256) / 256) * 256));
    });
    return { ...frame, data };
  });
}

/** What the grain came to in codes, as the condition report would say. */
export function deviation(noisy: Plane[], truth: Plane[]): number {
  let sum = 0,
    count = 0;
  for (const [n, { data }] of noisy.entries()) {
    for (let i = 0; i < data.length; i++) sum += ((data[i] - truth[n].data[i]) / 256) ** 2;
    count += data.length;
  }
  return Math.sqrt(sum / count);
}

const around = (of: (v: number) => string, middle: number, factors: number[]): string[] => factors.map((f) => of(middle * f));

/**
 * Single-picture filters at settings round what suits a deviation.
 * @param step samples between bm3d's blocks: 2 is its best, 4 a quarter of the time.
 */
function singles(sigma: number, step: 2 | 4): Record<string, string[]> {
  return {
    bm3d: around((v) => `bm3d=sigma=${v.toFixed(2)}:block=4:bstep=${step}:group=8:estim=basic`, sigma, [0.7, 1, 1.4]),
    nlmeans: around((v) => `nlmeans=s=${v.toFixed(2)}:p=5:r=11`, sigma, [0.4, 0.6, 0.8, 1.1]),
    vaguedenoiser: around((v) => `vaguedenoiser=threshold=${v.toFixed(2)}:nsteps=5`, sigma, [0.6, 0.9, 1.3, 1.8]),
  };
}

export function movings(sigma: number): Record<string, string[]> {
  return {
    ...singles(sigma, 4),
    atadenoise: [0.01, 0.02, 0.04, 0.08].map((a) => `atadenoise=0a=${a}:0b=${a * 4}:s=5`),
    hqdn3d: [4, 8, 14, 22].map((s) => `hqdn3d=${s}:${s}:${s}:${s}`),
    fftdnoiz: around((v) => `fftdnoiz=sigma=${v.toFixed(2)}:block=16:overlap=0.75:prev=1:next=1`, sigma, [0.6, 1, 1.5]),
  };
}

/** Single pictures: the best choice against the best of ffmpeg's filters at their best settings. */
export async function grainStills(work: string): Promise<Row[]> {
  const truth = heldStills();
  const rows: Row[] = [];
  const gains: number[] = [];
  for (const grain of GRAINS) {
    const noisy = grainy(truth, grain, 11);
    const base = bestFilter(singles(grain.sigma, 2), (filter) => filterGrey(noisy, filter, noisy[0], work), truth);
    const settings = { luma: deviation(noisy, truth), chroma: 0, size: grain.size, keep: 0, neighbours: 0 };
    const fast = closeness(await treated(noisy, 'grain', { ...settings, quality: 'fast' }, true), truth);
    const best = closeness(await treated(noisy, 'grain', { ...settings, quality: 'best' }, true), truth);
    gains.push(best.psnr - base.psnr);
    rows.push(...compare('Grain, single photographs', grain.name, { best, fast }, base, 0));
  }
  rows.push(average('Grain, single photographs', gains, 0.5));
  return rows;
}

/** How much what is left changes from frame to frame, in codes: the eye sees it boil. */
function flicker(made: Plane[], truth: Plane[]): number {
  let sum = 0;
  for (let n = 1; n < made.length; n++) {
    const { data } = made[n];
    for (let i = 0; i < data.length; i++)
      sum += ((data[i] - truth[n].data[i] - made[n - 1].data[i] + truth[n - 1].data[i]) / 256) ** 2 / data.length;
  }
  return Math.sqrt(sum / (made.length - 1));
}

/** Moving images, grain new in every frame. */
export async function grainClips(work: string): Promise<Row[]> {
  const rows: Row[] = [];
  const gains: number[] = [];
  let together = 0,
    alone = 0;
  for (const grain of GRAINS) {
    for (const [n, truth] of heldClips().entries()) {
      const noisy = grainy(truth, grain, 1000 * n);
      const base = bestFilter(movings(grain.sigma), (filter) => filterGrey(noisy, filter, noisy[0], work), truth);
      const settings = { luma: deviation(noisy, truth), chroma: 0, size: grain.size, keep: 0, neighbours: 2 };
      const fast = closeness(await treated(noisy, 'grain', { ...settings, quality: 'fast' }), truth);
      const made = await treated(noisy, 'grain', { ...settings, quality: 'best' });
      const best = closeness(made, truth);
      together += flicker(made, truth);
      alone += flicker(await treated(noisy, 'grain', { ...settings, quality: 'best', neighbours: 0 }), truth);
      gains.push(best.psnr - base.psnr);
      rows.push(...compare('Grain, moving', `clip ${n + 1}, ${grain.name}`, { best, fast }, base, 0.5));
    }
  }
  rows.push(average('Grain, moving', gains, 1.5));
  rows.push({
    group: 'Grain, moving',
    what: 'noise from frame to frame, of frame by frame cleaning',
    shown: `${(together / alone).toFixed(2)}`,
    value: together / alone,
    atMost: 1,
  });
  return rows;
}

/** Frames of a standing clip, and those at its ends that have fewer neighbours and are not judged. */
const STANDING_FRAMES = 25,
  STANDING_ENDS = 8;

/** A photograph that stands still, or drifts by a part of a pixel a frame, with something that moves before it. */
export function standing(ground: Plane, before: Plane, drift: number): Plane[] {
  const { width, height } = ground;
  return Array.from({ length: STANDING_FRAMES }, (_, t) => {
    const data = new Uint16Array(width * height);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const cover = Math.min(1, Math.max(0, 40 - Math.hypot(x - 30 - 7 * t, y - height * 0.6)));
        const at = Math.min(width - 1.001, x + drift * t),
          left = Math.floor(at),
          part = at - left;
        const row = y * width;
        const behind = ground.data[row + left] * (1 - part) + ground.data[row + left + 1] * part;
        const over = before.data[row + ((x + 7 * (STANDING_FRAMES - t)) % width)];
        data[row + x] = Math.round((behind + cover * (over - behind)) / 256) * 256;
      }
    }
    return { width, height, data };
  });
}

/** A camera that stands, and one that drifts so slowly that noise hides it; grain new in every frame. */
export async function grainStanding(work: string): Promise<Row[]> {
  const rows: Row[] = [];
  const stills = heldStills();
  const inner = (frames: Plane[]): Plane[] => frames.slice(STANDING_ENDS, -STANDING_ENDS);
  for (const [name, drift] of [
    ['standing', 0],
    ['drifting', 0.12],
  ] as const) {
    const gains: number[] = [];
    for (const grain of [...GRAINS, { name: 'film grain, strong', sigma: 14, size: 0.6, film: true }]) {
      for (const n of [0, 2, 5]) {
        const truth = standing(stills[n], stills[n + 1], drift);
        const noisy = grainy(truth, grain, 1000 * n);
        const longer = { ...movings(grain.sigma), longer: [0.02, 0.04, 0.08].map((a) => `atadenoise=0a=${a}:0b=${a * 4}:s=17`) };
        const base = bestFilter(longer, (filter) => inner(filterGrey(noisy, filter, noisy[0], work)), inner(truth));
        const settings = { luma: deviation(noisy, truth), chroma: 0, size: grain.size, keep: 0, neighbours: 2 };
        const run = async (told: object): Promise<{ psnr: number; ssim: number }> =>
          closeness(inner(await treated(noisy, 'grain', { ...settings, ...told })), inner(truth));
        const best = await run({ quality: 'best' });
        gains.push(best.psnr - base.psnr);
        rows.push(
          ...compare(
            `Grain, ${name} camera`,
            `photograph ${n + 1}, ${grain.name}`,
            { best, fast: await run({ quality: 'fast' }) },
            base,
            0.5,
          ),
        );
        const five = await run({ quality: 'best', still: 2 });
        rows.push({
          group: `Grain, ${name} camera`,
          what: `photograph ${n + 1}, ${grain.name}: best, over five frames alone`,
          shown: `${(best.psnr - five.psnr).toFixed(2)} dB`,
          value: best.psnr - five.psnr,
          atLeast: -0.05,
        });
      }
    }
    rows.push(average(`Grain, ${name} camera`, gains, 1.5));
  }
  return rows;
}

/** One thread, 720 x 480 luma, against bm3d. */
export async function grainSpeed(work: string): Promise<Row[]> {
  const still = heldStills()[0];
  const frame: Plane = { width: 720, height: 480, data: new Uint16Array(720 * 480).map((_, i) => still.data[(i * 7) % still.data.length]) };
  const run = (n: number): Promise<Plane[]> =>
    treated(
      Array.from({ length: n }, () => frame),
      'grain',
      { quality: 'best', luma: 10, keep: 0 },
      true,
    );
  await run(1);
  const start = performance.now();
  await run(4);
  const own = 4000 / (performance.now() - start);
  const file = path.join(work, 'grain.raw');
  writeFileSync(file, rawBytes(Array.from({ length: 2 }, () => [frame])));
  const row = (what: string, filter: string): Row => {
    const base = filterSpeed('gray', 720, 480, file, 2, filter, [0, 2]);
    return {
      group: 'Grain, single photographs',
      what: `speed of best, one thread, frames a second; bm3d ${what}`,
      shown: `${own.toFixed(1)} / ${base.toFixed(2)} = ${(own / base).toFixed(2)}`,
      value: own / base,
      atLeast: 1,
      timed: true,
    };
  };
  return [row('at its best', singles(10, 2).bm3d[1]), row('as it comes, which groups nothing', 'bm3d=sigma=10')];
}

export const average = (group: string, gains: number[], atLeast: number): Row => {
  const value = gains.reduce((a, b) => a + b, 0) / gains.length;
  return { group, what: 'best, average gain', shown: `${value >= 0 ? '+' : ''}${value.toFixed(2)} dB`, value, atLeast };
};
