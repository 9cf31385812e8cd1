import { describe, expect, it } from 'vitest';
import { wholeRegion } from '../picture/picture';
import { picture, streamInfo } from '../testing/pictures';
import { planOf, runOver, type Step } from '../testing/plans';
import type { PlainPlan, Span } from '../../shared/plan';
import { readPlan } from './read';

const info = streamInfo({ width: 80, height: 64, frames: 12 });
const held = (settings: Record<string, unknown>, span: Span) => {
  const [step] = planOf(['regrain', settings]).steps;
  return { ...step, span };
};
const luma = async (steps: object[], n: number): Promise<number[]> => {
  const plan = readPlan({ format: 'wairetic-plan', version: 2, steps }) as PlainPlan;
  const run = runOver(info, (k) => picture(info, k), ...plan.steps.map((s): Step => [s.treatment, s.settings, s.mask, s.span]));
  return [...(await run.frame(n, wholeRegion(run.stream))).planes[0].data];
};

describe('a step held to a stretch of running time', () => {
  const regrain = held({ amount: 8 }, { first: 3, last: 5 });
  const everywhere = planOf(['regrain', { amount: 8 }]).steps;

  it('works in it, both ends included, and leaves the rest to the last bit', async () => {
    for (const n of [0, 2, 6, 11]) expect(await luma([regrain], n)).toEqual([...picture(info, n).planes[0].data]);
    for (const n of [3, 5]) expect(await luma([regrain], n)).toEqual(await luma(everywhere, n));
  });

  it('is told in frames of the source, whatever steps before it do to the frames', async () => {
    const [trim] = planOf(['trim', { first: 2, last: 9 }]).steps;
    // Frame 1 of what is left is the source's frame 3.
    expect(await luma([trim, regrain], 0)).toEqual([...picture(info, 2).planes[0].data]);
    expect(await luma([trim, regrain], 1)).not.toEqual([...picture(info, 3).planes[0].data]);
  });

  it.each([
    [
      'a treatment that changes the rate',
      { treatment: 'deinterlace', on: true, settings: {}, span: { first: 0, last: 3 } },
      'cannot be held',
    ],
    ['an end before the start', { treatment: 'grain', on: true, settings: {}, span: { first: 5, last: 3 } }, 'to a later one'],
    ['half a frame', { treatment: 'grain', on: true, settings: {}, span: { first: 0.5, last: 3 } }, 'to a later one'],
    ['no object', { treatment: 'grain', on: true, settings: {}, span: null }, 'to a later one'],
  ])('is refused for %s', (_, step, words) => {
    expect(() => readPlan({ format: 'wairetic-plan', version: 2, steps: [step] })).toThrow(words);
  });
});
