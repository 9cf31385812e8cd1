import { psnr } from '../src/core/metrics/metrics';
import { enlargeLuma } from '../src/core/networks/enlarge';
import { wholeRegion } from '../src/core/picture/picture';
import { filterGrey } from './ffmpeg';
import { closeness, heldStills, treated, greyStream, PEAK } from './held';
const truth = heldStills().filter((p) => p.width % 8 === 0);
const whole = { width: truth[0].width, height: truth[0].height };
for (const factor of [2, 4] as const) {
  const small = filterGrey(truth, `scale=iw/${factor}:ih/${factor}:flags=area`, { width: 288 / factor, height: 288 / factor }, '/tmp/x');
  const lz = filterGrey(small, `scale=288:288:flags=lanczos`, whole, '/tmp/x');
  const raw = [];
  for (const p of small) {
    const r = wholeRegion(greyStream(p, 1));
    const out = await enlargeLuma(p, r, r, p, factor, 'live', { grain: 0, step: 0, blur: 0 });
    raw.push({ width: 288, height: 288, data: Uint16Array.from(out, (v) => Math.max(0, Math.min(65535, Math.round(v * 65535)))) });
  }
  const best = await treated(small, 'upscale', { quality: 'best', target: 'factor', factor }, true);
  const fast = await treated(small, 'upscale', { quality: 'fast', target: 'factor', factor }, true);
  const f = (a: typeof truth) => a.map((p, n) => psnr(p, truth[n], PEAK, 8).toFixed(2)).join(' ') + '  = ' + closeness(a, truth).psnr.toFixed(2);
  console.log(factor, '\nlanczos', f(lz), '\nfast   ', f(fast), '\nraw    ', f(raw), '\nbest   ', f(best));
}
