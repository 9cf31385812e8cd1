import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { PlanStep } from '../../../shared/plan';
import type { SettingSpec } from '../../../core';
import { bySetting, byTreatment, figuresFrom, rangeAround, spread, typedValues } from './strips';
import type { TreatmentInfo } from '../../../archive';
import type { Proof } from '../../parts/api';

const luma: SettingSpec = { key: 'luma', kind: 'number', label: 'Luma', help: '', unit: 'σ', min: 0, max: 60, step: 0.1, default: 4 };
const quality: SettingSpec = {
  key: 'quality',
  kind: 'choice',
  label: 'Quality',
  help: '',
  options: [
    { value: 'fast', label: 'fast' },
    { value: 'best', label: 'best' },
  ],
  default: 'fast',
};
const step: PlanStep = { id: 'a', treatment: 'grain', on: false, settings: { luma: 4, quality: 'fast' } };

describe('candidates', () => {
  it('are spread evenly, on the steps of the setting, both ends included', () => {
    expect(spread(2, 8, 4, luma)).toEqual([2, 4, 6, 8]);
    expect(spread(1, 2, 4, { ...luma, step: 1 })).toEqual([1, 2]);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 60, noNaN: true }), (value) => {
        const { from, to } = rangeAround(value, luma);
        expect(from).toBeGreaterThanOrEqual(0);
        expect(to).toBeLessThanOrEqual(60);
        expect(spread(from, to, 4, luma).length).toBeGreaterThan(1);
      }),
    );
  });

  it('are read as they are typed, within bounds, each once', () => {
    expect(typedValues('2, 4;8 4 900 x', luma)).toEqual([2, 4, 8, 60]);
    expect(typedValues('1.6 2.2', { ...luma, whole: true })).toEqual([2]);
    expect(typedValues(' ', luma)).toEqual([]);
  });

  it('say what differs and are switched on', () => {
    expect(bySetting(step, luma, [2, 8]).map((c) => [c.label, c.step.on, c.step.settings])).toEqual([
      ['Luma 2 σ', true, { luma: 2, quality: 'fast' }],
      ['Luma 8 σ', true, { luma: 8, quality: 'fast' }],
    ]);
    expect(bySetting(step, quality, ['best'])[0].label).toBe('Quality best');
  });

  it('can be other treatments, or none', () => {
    const focus = { id: 'focus', name: 'Focus', settings: [{ key: 'radius', default: 1 }] } as unknown as TreatmentInfo;
    const [off, other] = byTreatment(step, ['off', focus]);
    expect(off.step.on).toBe(false);
    expect(other.step).toEqual({ id: 'a', treatment: 'focus', on: true, settings: { radius: 1 } });
  });
});

describe('figuresFrom', () => {
  it('takes the time that was measured, or the expected one where all was remembered', () => {
    const answer = {
      place: { x: 0, y: 0, width: 0.5, height: 0.5 },
      steps: [{ id: 'a', milliseconds: 20 }],
      figures: { edges: 0.8, noise: 1.5 },
      invented: 0.1,
    } as Proof;
    expect(figuresFrom(answer, 'a', 3)).toEqual({ seconds: 0.02, edges: 0.8, noise: 1.5, invented: 0.1 });
    expect(figuresFrom({ ...answer, steps: [{ id: 'a', milliseconds: 0 }] }, 'a', 3).seconds).toBe(3);
    expect(figuresFrom({ ...answer, steps: [] }, 'a', undefined).seconds).toBeNull();
  });
});
