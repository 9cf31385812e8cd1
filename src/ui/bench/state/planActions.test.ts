import { beforeEach, describe, expect, it } from 'vitest';
import type { Item, Strip, TreatmentInfo, ItemAnswer } from '../../../archive';
import { sameTime } from '../../../shared/maps/time';
import type { Branch, Fork, PlainPlan, PlanEntry } from '../../../shared/plan';
import { freshShape, withPart } from '../masks/parts';
import { streamInfo } from '../../../core/testing/pictures';
import { versionAt } from './history';
import { redo, undo } from './historyActions';
import {
  addBranch,
  addStep,
  changeMask,
  changeOpacity,
  changeSetting,
  changeSpan,
  duplicateStep,
  forkStep,
  maskOf,
  moveBranch,
  moveEntry,
  previewSetting,
  removeEntry,
  renameBranch,
  returnSetting,
  returnToMeasured,
  switchEntry,
} from './planActions';
import { createBench, livePlan, seenPlan, type Bench } from './store';
import { planWith } from '../strips/strips';

const info = (id: string, name: string): TreatmentInfo => ({
  id,
  name,
  answers: 'something',
  masks: true,
  finds: false,
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

describe('forks on the ladder', () => {
  const forked = (): { fork: Fork; first: Branch; second: Branch } => {
    forkStep(bench, 'a');
    const fork = bench.getState().plan.steps[0] as Fork;
    return { fork, first: fork.branches[0], second: fork.branches[1] };
  };
  /** What lies where: ids of steps, with forks as lists of their branches'. */
  const layout = (entries: PlanEntry[] = bench.getState().plan.steps): unknown =>
    entries.map((e) => ('branches' in e ? e.branches.map((b) => layout(b.steps)) : e.treatment));

  it('come of a step, with the step in one branch and a copy in another', () => {
    const { first, second } = forked();
    expect(layout()).toEqual([[['grain'], ['grain']], 'focus']);
    expect(first.steps[0].id).toBe('a');
    expect(second.steps[0].id).not.toBe('a');
    expect(lastChange()).toBe('Grain: forked');
    undo(bench);
    expect(layout()).toEqual(['grain', 'focus']);
  });

  it('take steps in from outside, within and out again, and never themselves', () => {
    const { fork, first, second } = forked();
    moveEntry(bench, 'b', second.steps[0].id);
    expect(layout()).toEqual([[['grain'], ['focus', 'grain']]]);
    moveEntry(bench, 'b', first.id);
    expect(layout()).toEqual([[['focus', 'grain'], ['grain']]]);
    moveEntry(bench, 'b', 'a');
    expect(layout()).toEqual([[['grain', 'focus'], ['grain']]]);
    moveEntry(bench, 'b', fork.id);
    expect(layout()).toEqual(['focus', [['grain'], ['grain']]]);
    moveEntry(bench, fork.id, first.steps[0].id);
    moveEntry(bench, fork.id, first.id);
    expect(layout()).toEqual(['focus', [['grain'], ['grain']]]);
    moveEntry(bench, fork.id, 'b');
    expect(layout()).toEqual([[['grain'], ['grain']], 'focus']);
  });

  it('have branches added, raised, named, made fainter, switched and removed; the last takes the fork with it', () => {
    const { fork, first, second } = forked();
    addBranch(bench, fork.id, first.id);
    const now = (): Fork => bench.getState().plan.steps[0] as Fork;
    expect(now().branches.map((b) => b.name)).toEqual(['first way', 'second way', 'first way, again']);
    moveBranch(bench, first.id, 1);
    expect(
      now()
        .branches.map((b) => b.id)
        .slice(0, 2),
    ).toEqual([second.id, first.id]);
    renameBranch(bench, first.id, '  gentle ');
    changeOpacity(bench, first.id, 40);
    switchEntry(bench, second.id);
    expect(now().branches[1]).toMatchObject({ name: 'gentle', opacity: 40, on: true });
    expect(now().branches[0].on).toBe(false);
    changeMask(bench, first.id, withPart(undefined, freshShape('oval', 0.5, 0.5)), 'oval added');
    expect(maskOf(bench.getState().plan, first.id)?.parts).toHaveLength(1);
    expect(lastChange()).toBe('gentle: oval added');
    switchEntry(bench, fork.id);
    expect(now().on).toBe(false);
    for (const { id } of now().branches) removeEntry(bench, id);
    expect(layout()).toEqual(['focus']);
  });

  it('are seen with one branch alone, while the plan stays', () => {
    const { second } = forked();
    bench.setState({ solo: second.id });
    const seen = seenPlan(bench.getState());
    expect((seen.steps[0] as Fork).branches.map((b) => b.on)).toEqual([false, true]);
    // A plan that was not changed is seen as one and the same object: a proof that is there is not asked for again.
    expect(seenPlan(bench.getState())).toBe(seen);
    expect((bench.getState().plan.steps[0] as Fork).branches.map((b) => b.on)).toEqual([true, true]);
    bench.setState({ solo: undefined });
    expect(seenPlan(bench.getState())).toBe(bench.getState().plan);
  });
});
