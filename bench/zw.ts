import { heldStills, treated, closeness } from './held';
import { grainy } from './grain';
import { throughJpeg, jpegStep } from './coding';
const truth = heldStills();
const dev = (a: any[]) => { let s = 0, c = 0; a.forEach((p, n) => { for (let i = 0; i < p.data.length; i++) s += ((p.data[i] - truth[n].data[i]) / 256) ** 2; c += p.data.length; }); return Math.sqrt(s / c); };
for (const g of [{ sigma: 10, size: 0, film: false }, { sigma: 20, size: 0, film: false }, { sigma: 10, size: 0.6, film: true }]) {
  const noisy = grainy(truth, g, 11);
  const out = await treated(noisy, 'grain', { luma: dev(noisy), chroma: 0, size: g.size, keep: 0, neighbours: 0, quality: 'best' }, true);
  console.log(JSON.stringify(g), closeness(out, truth).psnr.toFixed(2));
}
for (const q of [30, 40, 50]) {
  const c = await throughJpeg(truth, q);
  console.log('jpeg', q, closeness(c, truth).psnr.toFixed(2), closeness(await treated(c, 'compression', { quality: 'best', coding: jpegStep(q), keep: 0 }, true), truth).psnr.toFixed(2));
}
