import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Plan } from '../../../shared/plan';
import { after, before, historyFrom, movedTo, recorded, versionAt, type History } from './history';

const plan = (n: number): Plan => ({
  format: 'wairetic-plan',
  version: 2,
  steps: [{ id: `s${n}`, treatment: 'grain', on: true, settings: {} }],
});
const start = (): History =>
  historyFrom({ versions: [{ version: 1, parent: null, name: '', plan: plan(0), change: 'proposed', created: '' }], current: 1, tip: 1 });

describe('history', () => {
  it('walks back over more than a hundred changes and forward again', () => {
    let history = start();
    for (let n = 1; n <= 150; n++) history = recorded(history, plan(n), `change ${n}`);
    for (let n = 149; n >= 0; n--) {
      history = movedTo(history, before(history) as string);
      expect(versionAt(history, history.at)?.plan).toEqual(plan(n));
    }
    expect(before(history)).toBeUndefined();
    for (let n = 1; n <= 150; n++) history = movedTo(history, after(history) as string);
    expect(versionAt(history, history.at)?.plan).toEqual(plan(150));
    expect(after(history)).toBeUndefined();
  });

  it('keeps the branch that was left', () => {
    let history = recorded(recorded(start(), plan(1), 'one'), plan(2), 'two');
    const left = history.at;
    history = movedTo(history, before(history) as string);
    history = recorded(history, plan(3), 'three');
    expect(after(history)).toBeUndefined();
    history = movedTo(history, left);
    expect(versionAt(history, history.at)?.plan).toEqual(plan(2));
    expect(after(history)).toBeUndefined();
  });

  it('loses no version and always stands on one, whatever is done', () => {
    const moves = fc.array(fc.constantFrom('change', 'undo', 'redo'), { maxLength: 60 });
    fc.assert(
      fc.property(moves, (list) => {
        let history = start(),
          changes = 0;
        for (const move of list) {
          const to = move === 'undo' ? before(history) : after(history);
          if (move === 'change') history = recorded(history, plan(++changes), 'x');
          else if (to) history = movedTo(history, to);
        }
        expect(history.versions).toHaveLength(changes + 1);
        expect(versionAt(history, history.at)).toBeDefined();
        expect(history.unsent.every((u) => versionAt(history, u.key))).toBe(true);
      }),
    );
  });
});
