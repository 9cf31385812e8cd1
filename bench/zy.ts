import { picture, streamInfo } from '../src/core/testing/pictures';
import { wholeRegion } from '../src/core/picture/picture';
import { PictureCache } from '../src/core/plan/cache';
import { PlanRun } from '../src/core/plan/executor';
import { readPlan, readySteps } from '../src/core/plan/plan';
const info = streamInfo({ width: 720, height: 480, frames: 12, fieldOrder: 'top-first', pixelAspect: { num: 8, den: 9 } });
const frames = Array.from({ length: 12 }, (_, n) => picture(info, n));
for (const quality of process.argv.slice(2)) {
  const plan = readPlan({ format: 'wairetic-plan', version: 1, steps: [
    { treatment: 'deinterlace', on: true, settings: { quality: process.env.DQ ?? quality, order: 'top' } },



    { treatment: 'upscale', on: true, settings: { quality, target: '1080p' } } ] });
  const run = new PlanRun({ info, key: 'x', frame: (n) => Promise.resolve(frames[n]) }, readySteps(plan), { cache: new PictureCache(300 << 20) });
  const t0 = performance.now();
  await run.picture(6, wholeRegion(run.output));
  for (const s of run.spent) { s.milliseconds = 0; s.frames = 0; }
  const t = performance.now();
  const n = 6;
  for (let i = 7; i < 7 + n; i++) await run.picture(i, wholeRegion(run.output));
  console.log(quality, 'first', (t - t0).toFixed(0), 'ms/frame', ((performance.now() - t) / n).toFixed(0), run.spent.map((s, i) => `${readySteps(plan)[i].treatment.id} ${(s.milliseconds / n).toFixed(0)} (${s.frames})`).join(', '));
}
