import { describe, expect, it } from 'vitest';
import { emptyPlan, type Plan } from '../../shared/plan';
import { PictureCache } from '../graph/cache';
import { compile } from '../graph/graph';
import { cutPicture, type Picture, wholeRegion } from '../picture/picture';
import { reducedPicture } from '../picture/reduced';
import { picture, streamInfo } from '../testing/pictures';
import { coarsePlan } from './coarse';
import { readPlan } from './read';

const plan = (...steps: [string, Record<string, unknown>?][]): Plan =>
  readPlan({ ...emptyPlan(), steps: steps.map(([treatment, settings = {}], n) => ({ id: `s${n}`, treatment, on: true, settings })) });
const info = streamInfo({ width: 256, height: 192, frames: 1 });

describe('a coarse plan', () => {
  it('leaves out what is not seen at a small size, and crops by fewer pixels', () => {
    const made = coarsePlan(plan(['crop', { left: 40 }], ['grain'], ['tone', { light: 1 }], ['upscale'], ['regrain']), 4);
    expect(made?.steps.map((s) => 'treatment' in s && s.treatment)).toEqual(['crop', 'tone']);
    expect(made?.steps[0]).toMatchObject({ settings: { left: 10 } });
  });

  it('is none where a step would show something else', () => {
    expect(coarsePlan(plan(['redact']), 4)).toBeUndefined();
    expect(coarsePlan(plan(['background']), 4)).toBeUndefined();
    const [tone] = plan(['tone']).steps;
    const held = { ...emptyPlan(), steps: [{ ...tone, marks: 'a'.repeat(64) }] } as Plan;
    expect(coarsePlan(held, 4)).toBeUndefined();
    expect(coarsePlan({ ...emptyPlan(), steps: [{ ...tone, on: false }] }, 4)?.steps).toEqual([]);
  });

  it('makes nearly what the plan itself makes, reduced', async () => {
    const source = picture(info);
    const made = async (p: Plan, from: Picture): Promise<Picture> => {
      const frame = (_: number, region: typeof from.region): Promise<Picture> => Promise.resolve(cutPicture(from, region));
      const { output } = compile(p, { info: from.info, key: 'a', frame }, { cache: new PictureCache(0) });
      return output.frame(0, wholeRegion(output.stream));
    };
    const whole = plan(['crop', { left: 32, top: 16 }], ['tone', { light: 0.7, warmer: 0.2, large: 120 }]);
    const fine = reducedPicture(await made(whole, source), 4);
    const coarse = await made(coarsePlan(whole, 4) as Plan, reducedPicture(source, 4));
    expect([coarse.info.width, coarse.info.height]).toEqual([fine.info.width, fine.info.height]);
    let off = 0;
    fine.planes[0].data.forEach((v, i) => (off += Math.abs(v - coarse.planes[0].data[i])));
    expect(off / fine.planes[0].data.length / 256).toBeLessThan(6);
  });
});
