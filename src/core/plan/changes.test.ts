import { describe, expect, it } from 'vitest';
import { planOf } from '../testing/plans';
import { planChanges } from './changes';

describe('planChanges', () => {
  const plan = planOf(['deinterlace'], ['grain', { luma: 3 }], ['upscale']);

  it('says nothing of plans that are alike but for the names of their steps', () => {
    expect(planChanges(plan, planOf(['deinterlace'], ['grain', { luma: 3 }], ['upscale']))).toEqual([]);
  });

  it('names settings with their former values, and steps that come and go', () => {
    expect(planChanges(plan, planOf(['deinterlace', { rate: 'single' }], ['grain', { luma: 5.5 }], ['regrain']))).toEqual([
      'Deinterlace: rate single (double)',
      'Grain: luma 5.5 σ (3 σ)',
      'Regrain added',
      'Upscale removed',
    ]);
    const off = { ...plan, steps: plan.steps.map((s) => ({ ...s, on: s.treatment !== 'grain' })) };
    expect(planChanges(plan, off)).toEqual(['Grain: off']);
  });

  it('pass over what is off before and after', () => {
    const idle = (luma: number) => ({ ...plan, steps: planOf(['grain', { luma }]).steps.map((s) => ({ ...s, on: false })) });
    expect(planChanges(idle(3), idle(9))).toEqual([]);
    expect(planChanges(idle(3), { ...plan, steps: [] })).toEqual([]);
  });

  it('tells another order', () => {
    expect(planChanges(plan, { ...plan, steps: plan.steps.toReversed() })).toEqual(['another order']);
  });
});
