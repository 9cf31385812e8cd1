import { describe, expect, it } from 'vitest';
import type { PlainPlan } from '../shared/plan';
import { streamInfo } from '../core/testing/pictures';
import { readStrip } from './strips';

const source = streamInfo({});
const plan: PlainPlan = {
  format: 'wairetic-plan',
  version: 2,
  steps: [
    { id: 'a', treatment: 'grain', on: true, settings: { luma: 4 } },
    { id: 'b', treatment: 'regrain', on: true, settings: {} },
  ],
};
const region = { x: 0.2, y: 0.2, width: 0.3, height: 0.3 };
const strip = (...lumas: unknown[]) =>
  readStrip(
    {
      plan,
      step: 'a',
      about: 'Grain: Luma',
      frame: 7,
      region,
      candidates: lumas.map((luma) => ({
        label: `luma ${String(luma)}`,
        step: { ...plan.steps[0], settings: { luma } },
      })),
    },
    source,
  );

describe('readStrip', () => {
  it('takes two to four candidates, each in the place of the step', () => {
    const { candidates, chosen } = strip(2, 8);
    expect(candidates.map((c) => [c.label, c.step.id, c.step.settings.luma])).toEqual([
      ['luma 2', 'a', 2],
      ['luma 8', 'a', 8],
    ]);
    expect(chosen).toBeNull();
    expect(() => strip(2)).toThrow('2 to 4 candidates, not 1');
    expect(() => strip(1, 2, 3, 4, 5)).toThrow('not 5');
  });

  it('refuses settings out of bounds and steps that are not there', () => {
    expect(() => strip(2, 800)).toThrow('Luma must lie between');
    expect(() => readStrip({ ...strip(1, 2), step: 'c' }, source)).toThrow('not in the plan');
  });

  it('takes another treatment for the same fault', () => {
    const other = { label: 'Focus', step: { id: 'x', treatment: 'focus', on: true, settings: {} } };
    const { candidates } = readStrip({ ...strip(2, 3), candidates: [strip(2, 3).candidates[0], other] }, source);
    expect(candidates[1].step).toMatchObject({ id: 'a', treatment: 'focus' });
  });
});
