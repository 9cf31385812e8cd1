import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { emptyPlan, type Plan, type PlanStep } from '../../shared/plan';
import { wholeRegion, type Picture } from '../picture/picture';
import { readPlan } from '../plan/read';
import { picture, streamInfo } from '../testing/pictures';
import { madeSource, planOf } from '../testing/plans';
import { RegrainSettings } from '../treatments/regrain/regrain';
import { TREATMENTS } from '../treatments/register';
import { NO_NEEDS, type Treatment } from '../treatments/treatment';
import { PictureCache } from './cache';
import { compile } from './graph';
import { layOut, type FindAnalysis } from './layout';

const seen: { marks: readonly unknown[]; analyses: object }[] = [];

/** Lightens by what was measured, and once more for each mark. */
const lighten: Treatment = {
  id: 'lighten',
  version: 1,
  name: 'Lighten',
  answers: 'nothing, but in tests',
  settings: RegrainSettings,
  inPlace: true,
  reads: () => ['light'],
  marks: 'points',
  suits: () => true,
  output: (input) => input,
  needs: () => NO_NEEDS,
  propose: () => undefined,
  summary: () => '',
  apply: ([source], _settings, { output, marks, analyses }) => {
    seen.push({ marks, analyses });
    const by = Number(analyses.light) + marks.length;
    return { ...source, info: output, planes: source.planes.map((p) => ({ ...p, data: p.data.map((v) => v + by) })) };
  },
};

const register = TREATMENTS as Treatment[];
beforeAll(() => void register.push(lighten));
afterAll(() => void register.pop());

const info = streamInfo({ width: 32, height: 32, frames: 3 });
const HASH = 'b'.repeat(64);
const step = (more: Partial<PlanStep> = {}): Plan =>
  readPlan(emptyPlan([{ id: 'l', treatment: 'lighten', on: true, settings: {}, ...more }]));
const known =
  (value: number): FindAnalysis =>
  (_key, id) =>
    id === 'light' ? { hash: `h${value}`, value } : undefined;
const graph = (plan: Plan, analysis?: FindAnalysis) =>
  compile(
    plan,
    madeSource(info, (n) => picture(info, n)),
    {
      cache: new PictureCache(1 << 26),
      analysis,
      marks: (hash) => Promise.resolve(hash === HASH ? [{ x: 1 }, { x: 2 }] : []),
    },
  );
const frame = (plan: Plan, analysis?: FindAnalysis): Promise<Picture> => graph(plan, analysis).output.frame(0, wholeRegion(info));

describe('a step that reads analyses and marks', () => {
  it('rests until what it reads is measured, and says so', async () => {
    expect((await frame(step())).planes).toEqual(picture(info, 0).planes);
    const { missing, nodes } = layOut(step(), info);
    expect(missing).toEqual([{ step: 'l', key: nodes.get('source')?.key, analysis: 'light' }]);
    expect(graph(step(), known(5)).missing).toEqual([]);
  });

  it('is given what was measured and the hand work, and its key has both', async () => {
    const was = picture(info, 0).planes[0].data[0];
    expect((await frame(step({ marks: HASH }), known(5))).planes[0].data[0]).toBe(was + 7);
    expect(seen.at(-1)).toEqual({ marks: [{ x: 1 }, { x: 2 }], analyses: { light: 5 } });
    const keys = [step(), step({ marks: HASH })].flatMap((plan) => [5, 6].map((v) => graph(plan, known(v)).output.key));
    expect(new Set(keys).size).toBe(4);
  });

  it('leaves the keys of what comes before it alone', () => {
    const plan = emptyPlan([...planOf(['regrain']).steps, ...step().steps]);
    const before = (value: number) => graph(plan, known(value)).output.inputs[0].key;
    expect(before(5)).toBe(before(6));
  });

  it('takes hand work by its name alone, and only where it reads any', () => {
    expect(() => step({ marks: 'everything' })).toThrow('hand work is named by its SHA-256');
    const [grain] = planOf(['grain']).steps;
    expect(() => readPlan(emptyPlan([{ ...grain, marks: HASH }]))).toThrow('Step 1, Grain: it reads no hand work');
  });
});
