import type { Plane } from '../src/core/picture/picture';
import { jpegStep, throughJpeg } from './coding';
import { filterGrey } from './ffmpeg';
import { average, grainy } from './grain';
import { bestFilter, closeness, heldStills, treated } from './held';
import { compare, type Row } from './table';

const GROUP = 'Upscale';

/** Planes cut to a multiple of 8, so that they can be halved twice. */
const fitted = (planes: Plane[]): Plane[] => planes.filter((p) => p.width % 8 === 0 && p.height % 8 === 0);

export async function enlargeQuality(work: string): Promise<Row[]> {
  const rows: Row[] = [];
  const truth = fitted(heldStills());
  const whole = { width: truth[0].width, height: truth[0].height };
  const sizes = (of: (kernel: string) => string): Record<string, string[]> => ({
    kernels: ['bicubic', 'lanczos', 'spline'].map(of),
  });
  for (const factor of [2, 4]) {
    const small = filterGrey(
      truth,
      `scale=iw/${factor}:ih/${factor}:flags=area`,
      { width: whole.width / factor, height: whole.height / factor },
      work,
    );
    const to = (flags: string): string => `scale=${whole.width}:${whole.height}:flags=${flags}`;
    const upscale = async (source: Plane[], quality: string, told: object): Promise<{ psnr: number; ssim: number }> =>
      closeness(await treated(source, 'upscale', { quality, target: 'factor', factor, ...told }, true), truth);
    const clean = bestFilter(sizes(to), (filter) => filterGrey(small, filter, whole, work), truth);
    const best = await upscale(small, 'best', {});
    rows.push(...compare(GROUP, `${factor}x, clean`, { best, fast: await upscale(small, 'fast', {}) }, clean, 0));
    rows.push(average(`${GROUP}, ${factor}x, clean`, [best.psnr - clean.psnr], factor === 2 ? 1.3 : 0.9));

    const noisy = await throughJpeg(grainy(small, { sigma: 5, size: 0, film: false }, 21), 40);
    const candidates = { ...sizes(to), degrained: [3, 4.5, 6].map((s) => `nlmeans=s=${s}:p=5:r=11,${to('lanczos')}`) };
    const base = bestFilter(candidates, (filter) => filterGrey(noisy, filter, whole, work), truth);
    const told = await upscale(noisy, 'best', { grain: 5, coding: jpegStep(40) });
    rows.push(...compare(GROUP, `${factor}x, noise 5 + JPEG 40`, { best: told, fast: await upscale(noisy, 'fast', {}) }, base, 0));
    rows.push(average(`${GROUP}, ${factor}x, noise 5 + JPEG 40`, [told.psnr - base.psnr], 1.5));
  }
  return rows;
}
