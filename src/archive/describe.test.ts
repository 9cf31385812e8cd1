import { sameTime } from '../shared/maps/time';
import { describe, expect, it, vi } from 'vitest';
import { streamInfo } from '../core/testing/pictures';
import { planOf, type Step } from '../core/testing/plans';
import { reportOf } from '../core/testing/reports';
import { describePlan, treatmentInfos } from './describe';
import type { Item } from './types';

const stream = streamInfo({ width: 720, height: 480, frames: 100, fieldOrder: 'top-first', pixelAspect: { num: 8, den: 9 } });
const item = {
  kind: 'moving',
  facts: { stream },
  condition: reportOf({ scan: 'interlaced', fieldOrder: 'top-first' }),
} as unknown as Item;
const PLACE = { x: 0, y: 0, width: 1, height: 1 };

const told = (...steps: Step[]) => describePlan(item, planOf(...steps));

describe('a plan described', () => {
  it('says what each step makes of the picture, where it lies in the result, and what comes out', () => {
    const { steps, output, runs } = told(['crop', { left: 72 }], ['deinterlace'], ['upscale', { target: '1080p' }]);
    expect(runs).toBe(true);
    expect(steps.map((s) => s.summary)).toEqual(['left 72, right 0, top 0, bottom 0 px', 'double rate, top field first', '1296 × 1080']);
    expect(output).toMatchObject({ width: 1296, height: 1080, frames: 200, fieldOrder: 'progressive' });
    // What Crop reads reaches a ninth of the result beyond its left edge.
    expect(steps[0].place?.x).toBeCloseTo(-1 / 9, 6);
    expect(steps[0].place?.width).toBeCloseTo(10 / 9, 6);
    expect(steps.slice(1).map((s) => s.place)).toEqual([PLACE, PLACE]);
  });

  it('names a stretch of running time, and says which frames of the source are shown', () => {
    const { steps, time } = told(
      ['trim', { first: 10, last: 59 }],
      ['deinterlace'],
      ['grain', { luma: 3 }, undefined, { first: 20, last: 30 }],
    );
    expect(steps[2].summary).toMatch(/^frames 20 to 30: luma/);
    expect(time).toEqual([{ first: 0, count: 100, start: { num: 10, den: 1 }, step: { num: 1, den: 2 } }]);
    expect(told(['crop', { left: 9000 }]).time).toEqual(sameTime(100));
  });

  it('names a mask in the summary', () => {
    const part = { shape: { kind: 'oval', x: 0, y: 0, width: 0.5, height: 0.5 } };
    const { steps } = told(
      ['deinterlace'],
      ['grain', { luma: 3 }, { parts: [part] }],
      ['focus', {}, { parts: [part, part], inverse: true }],
    );
    expect(steps[1].summary).toMatch(/^inside 1 oval: luma/);
    expect(steps[2].summary).toMatch(/^outside 2 shapes: blur/);
  });

  it('names the step that cannot run, keeps describing the others, and gives no places', () => {
    const { steps, runs, output } = told(['crop', { left: 400, right: 400 }], ['deinterlace'], ['grain', { luma: 2, chroma: 1 }]);
    expect(runs).toBe(false);
    expect(steps[0]).toMatchObject({ summary: 'cannot run', problem: expect.stringMatching(/^Crop leaves 0 x 480 px/) as string });
    expect(steps[2].summary).toContain('luma 2.0');
    expect(steps.some((s) => s.place)).toBe(false);
    expect(output).toEqual(told().output);
  });

  it('leaves a step that is off out of the reckoning', () => {
    const plan = planOf(['crop', { left: 400, right: 400 }], ['deinterlace']);
    plan.steps[0].on = false;
    const { steps, runs } = describePlan(item, plan);
    expect(runs).toBe(true);
    expect(steps[0]).toEqual({ id: plan.steps[0].id, summary: 'off' });
  });

  it('warns of an order that harms', () => {
    expect(told(['grain'], ['deinterlace']).steps[0].warning).toMatch(/still interlaced/);
  });

  it('says which network a step misses, and lets the fast choice be', () => {
    vi.stubEnv('WAIRETIC_MODELS', '/nowhere');
    const { steps, runs } = told(['deinterlace', { quality: 'best' }], ['grain', { quality: 'fast' }]);
    vi.unstubAllEnvs();
    expect(runs).toBe(false);
    expect(steps[0].problem).toMatch(/network "fields" has no card/);
    expect(steps[1].problem).toBeUndefined();
  });

  it('expects a time a frame by the pace of the machine, spread over its cores', () => {
    const pace = { 'grain, moving': { fast: 0.2, best: 1 } };
    const { steps } = describePlan(item, planOf(['deinterlace'], ['grain']), { pace, cores: 2 });
    const pixels = (720 * 480) / 1e6;
    expect(steps[0].seconds).toBeUndefined();
    expect(steps[1].seconds?.fast).toBeCloseTo((0.2 * pixels) / 2, 9);
    expect(steps[1].seconds?.best).toBeCloseTo((1 * pixels) / 2, 9);
  });

  it('expects an enlargement to take longer the more it makes, and the network to go twice for four times the size', () => {
    const pace = { 'upscale, moving': { fast: 0.4, best: 2 } };
    const seconds = (factor: number): Record<string, number> => {
      const plan = planOf(['upscale', { target: 'factor', factor }]);
      return describePlan(item, plan, { pace, cores: 1 }).steps[0].seconds ?? {};
    };
    const [once, twice] = [seconds(2), seconds(4)];
    expect(twice.fast / once.fast).toBeCloseTo(4, 9);
    expect(twice.best / once.best).toBeCloseTo(5, 9);
  });
});

describe('treatments described', () => {
  it('say what they answer, and which take a mask', () => {
    const infos = treatmentInfos();
    expect(infos.filter((t) => t.masks).map((t) => t.id)).toEqual([
      'silvering',
      'dirt',
      'heal',
      'halftone',
      'compression',
      'grain',
      'halos',
      'focus',
      'stairsteps',
      'tone',
      'colourise',
      'toning',
      'background',
      'redact',
      'faces',
      'inlay',
      'regrain',
    ]);
    for (const info of infos) expect(info.answers.length).toBeGreaterThan(5);
  });
});
