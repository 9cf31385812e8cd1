import { heldClips, treated, closeness } from './held';
import { grainy } from './grain';
const dev = (a: any[], t: any[]) => { let s = 0, c = 0; a.forEach((p, n) => { for (let i = 0; i < p.data.length; i++) s += ((p.data[i] - t[n].data[i]) / 256) ** 2; c += p.data.length; }); return Math.sqrt(s / c); };
for (const g of [{ sigma: 10, size: 0, film: false }, { sigma: 10, size: 0.6, film: true }]) {
  let f = 0, b = 0; const rows = [];
  for (const [n, truth] of heldClips().entries()) {
    const noisy = grainy(truth, g, 1000 * n);
    const s = { luma: dev(noisy, truth), chroma: 0, size: g.size, keep: 0, neighbours: 2 };
    const fast = closeness(await treated(noisy, 'grain', { ...s, quality: 'fast' }), truth).psnr, best = closeness(await treated(noisy, 'grain', { ...s, quality: 'best' }), truth).psnr;
    f += fast / 6; b += best / 6; rows.push(`${fast.toFixed(1)}>${best.toFixed(1)}`);
  }
  console.log(JSON.stringify(g), f.toFixed(2), b.toFixed(2), rows.join(' '));
}
