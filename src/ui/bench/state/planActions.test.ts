import { beforeEach, describe, expect, it } from 'vitest';
import type { Item, Strip } from '../../../archive/types';
import { sameTime } from '../../../shared/maps/time';
import type { PlainPlan } from '../../../shared/plan';
import { streamInfo } from '../../../core/testing/pictures';
import type { ItemAnswer, TreatmentInfo } from '../../parts/api';
import { versionAt } from './history';
import { redo, undo } from './historyActions';
import {
  addStep,
  changeSetting,
  changeSpan,
  duplicateStep,
  moveEntry,
  previewSetting,
  removeEntry,
  returnSetting,
  returnToMeasured,
  switchEntry,
} from './planActions';
import { createBench, livePlan, type Bench } from './store';
import { planWith } from '../strips/strips';

const info = (id: string, name: string): TreatmentInfo => ({
  id,
  name,
  answers: 'something',
  masks: true,
  settings: [{ key: 'amount', kind: 'number', label: 'Amount', help: '', unit: 'σ', min: 0, max: 9, step: 1, default: 2 }],
});
const plan: PlainPlan = {
  format: 'wairetic-plan',
  version: 2,
  steps: [
    { id: 'a', treatment: 'grain', on: true, settings: { amount: 4 }, measured: { amount: 4 } },
    { id: 'b', treatment: 'focus', on: false, settings: { amount: 1 } },
  ],
};

let bench: Bench;
const steps = () => (bench.getState().plan as PlainPlan).steps;
const lastChange = (): string | undefined => versionAt(bench.getState().history, bench.getState().history.at)?.change;

beforeEach(() => {
  const version = { version: 1, parent: null, name: '', plan, change: 'proposed', created: '' };
  const source = streamInfo({ frames: 100 });
  const description = { steps: [], output: source, source, time: sameTime(100), runs: true, geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1] };
  bench = createBench({
    item: { id: 'i' } as Item,
    plan: version,
    history: { versions: [version], current: 1, tip: 1 },
    description,
    treatments: [info('grain', 'Grain'), info('focus', 'Focus')],
  } as unknown as ItemAnswer as Parameters<typeof createBench>[0]);
});

describe('changes of the plan', () => {
  it('name themselves in words, and each is one step of undo', () => {
    changeSetting(bench, 'a', 'amount', 6);
    expect(lastChange()).toBe('Grain: Amount 6 σ');
    switchEntry(bench, 'b');
    expect(lastChange()).toBe('Focus on');
    moveEntry(bench, 'b', 'a');
    expect(lastChange()).toBe('Focus moved to place 1');
    expect(steps().map((s) => s.id)).toEqual(['b', 'a']);
    for (let n = 0; n < 3; n++) undo(bench);
    expect(bench.getState().plan).toEqual(plan);
    undo(bench);
    expect(bench.getState().plan).toEqual(plan);
    for (let n = 0; n < 3; n++) redo(bench);
    expect(steps().map((s) => [s.id, s.on, s.settings.amount])).toEqual([
      ['b', true, 1],
      ['a', true, 6],
    ]);
  });

  it('do not come of a setting that stays as it was, nor of one that is only tried', () => {
    changeSetting(bench, 'a', 'amount', 4);
    previewSetting(bench, 'a', 'amount', 8);
    expect((livePlan(bench.getState()) as PlainPlan).steps[0].settings.amount).toBe(8);
    expect(bench.getState().history.versions).toHaveLength(1);
    undo(bench);
    expect(livePlan(bench.getState())).toEqual(plan);
  });

  it('go back to what was measured, or to the defaults where nothing was', () => {
    changeSetting(bench, 'a', 'amount', 9);
    returnSetting(bench, 'a', 'amount');
    expect(steps()[0].settings.amount).toBe(4);
    returnSetting(bench, 'b', 'amount');
    expect(steps()[1].settings.amount).toBe(2);
    changeSetting(bench, 'a', 'amount', 9);
    returnToMeasured(bench, 'a');
    expect(steps()[0].settings).toEqual({ amount: 4 });
  });

  it('add, duplicate and remove steps, the new one open', () => {
    addStep(bench, 'focus');
    expect(bench.getState().opened).toBe(steps()[2].id);
    duplicateStep(bench, 'a');
    expect(steps().map((s) => s.treatment)).toEqual(['grain', 'grain', 'focus', 'focus']);
    expect(new Set(steps().map((s) => s.id)).size).toBe(4);
    removeEntry(bench, 'a');
    expect(steps()[0].settings).toEqual({ amount: 4 });
    addStep(bench, 'nobody knows');
    expect(steps()).toHaveLength(3);
  });

  it('hold a step to a stretch of running time', () => {
    changeSpan(bench, 'a', { first: 10, last: 20 });
    expect(lastChange()).toBe('Grain: frames 10 to 20');
    expect(steps()[0].span).toEqual({ first: 10, last: 20 });
    changeSpan(bench, 'a', undefined);
    expect(steps()[0].span).toBeUndefined();
  });
});

describe('a candidate of a strip', () => {
  const strip = { step: 'a', candidates: [{ label: '', step: { ...plan.steps[0], settings: { amount: 7 } } }] } as unknown as Strip;

  it('takes the place of its step and keeps what was measured', () => {
    expect(planWith(plan, strip, 0).steps[0]).toMatchObject({ id: 'a', settings: { amount: 7 }, measured: { amount: 4 } });
  });

  it('comes at the end where its step is gone', () => {
    const left = { ...plan, steps: plan.steps.slice(1) };
    expect(planWith(left, strip, 0).steps.map((s) => s.id)).toEqual(['b', 'a']);
  });
});
