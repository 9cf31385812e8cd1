import { describe, expect, it } from 'vitest';
import { pointAt } from '../../shared/maps/place';
import { PlanError } from '../treatments/treatment';
import { streamInfo } from '../testing/pictures';
import { planOf, type Step } from '../testing/plans';
import { layOut, outputStream, restsAt, SOURCE_NODE } from './layout';

const still = streamInfo({ width: 400, height: 300, frames: 1 });
const film = streamInfo({ width: 400, height: 300, frames: 50 });
const keyOf = (...steps: Step[]): string => layOut(planOf(...steps), still, 'a').output.key;

describe('a plan laid out', () => {
  it('is the source where nothing is on', () => {
    const { source, output, nodes } = layOut(planOf(), still, 'a');
    expect(output).toBe(source);
    expect([...nodes.keys()]).toEqual([SOURCE_NODE]);
  });

  it('names its pictures by all that they depend on, and by nothing else', () => {
    expect(keyOf(['grain', { luma: 4 }])).toBe(keyOf(['grain', { luma: 4 }]));
    expect(keyOf(['grain', { luma: 4 }])).not.toBe(keyOf(['grain', { luma: 5 }]));
    expect(keyOf(['grain', { luma: 4 }], ['focus', {}])).not.toBe(keyOf(['focus', {}], ['grain', { luma: 4 }]));
    const plan = planOf(['grain', { luma: 4 }]);
    expect(layOut(plan, still, 'a').output.key).not.toBe(layOut(plan, still, 'b').output.key);
    const off = { ...plan, steps: plan.steps.map((step) => ({ ...step, on: false })) };
    expect(layOut(off, still, 'a').output.key).toBe(layOut(planOf(), still, 'a').output.key);
  });

  it('tells the size that comes out, and where its pixels lie in the source', () => {
    const plan = planOf(['crop', { left: 40, top: 30 }], ['upscale', { target: 'factor', factor: 2 }]);
    const { output } = layOut(plan, still);
    expect(outputStream(plan, still)).toMatchObject({ width: 720, height: 540 });
    const { x, y } = pointAt(output.geometry(0), 100, 60);
    expect([x, y]).toEqual([40 + 50, 30 + 30]);
  });

  it('tells what is to be measured first, and lets the step rest until then', () => {
    const plan = planOf(['faces', {}]);
    const { output, source, missing } = layOut(plan, still, 'a');
    expect(output).toBe(source);
    expect(missing).toEqual([{ step: plan.steps[0].id, key: source.key, analysis: 'faces' }]);
    const known = (hash: string): string => layOut(plan, still, 'a', () => ({ hash, value: { faces: [] } })).output.key;
    expect(known('one')).not.toBe(source.key);
    expect(known('one')).not.toBe(known('two'));
  });

  it('says which step cannot work on what comes before it', () => {
    const interlaced = streamInfo({ frames: 50, fieldOrder: 'top-first' });
    expect(() => layOut(planOf(['faces', {}]), interlaced)).toThrow(PlanError);
    expect(() => layOut(planOf(['faces', {}]), interlaced)).toThrow('Faces does not work on this kind of picture.');
  });

  it('lets a step that is held to a stretch rest outside of it, counted in the source', () => {
    const { output } = layOut(planOf(['trim', { first: 10, last: 39 }]), film);
    const span = { first: 12, last: 20 };
    const rests = Array.from({ length: output.stream.frames }, (_, n) => restsAt(span, output.time, n));
    expect(rests.flatMap((rest, n) => (rest ? [] : [n]))).toEqual([2, 3, 4, 5, 6, 7, 8, 9, 10]);
    expect(restsAt(undefined, output.time, 0)).toBe(false);
  });
});
