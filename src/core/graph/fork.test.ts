import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allSteps, emptyPlan, isFork, soloed, type Branch, type Fork, type Plan, type PlanEntry } from '../../shared/plan';
import { cutPicture, wholeRegion, type Picture, type StreamInfo } from '../picture/picture';
import { planChanges } from '../plan/changes';
import { supportedPlan } from '../plan/evidence';
import { readPlan } from '../plan/read';
import { planFromTemplate, templateOf } from '../plan/template';
import { planWarnings } from '../plan/warnings';
import { picture, streamInfo } from '../testing/pictures';
import { graphOver, planOf, type Step } from '../testing/plans';
import { reportOf } from '../testing/reports';
import { layOut } from './layout';

const info = streamInfo({ width: 160, height: 120, frames: 6 });
const FACE = { parts: [{ shape: { kind: 'oval', x: 0.5, y: 0.2, width: 0.4, height: 0.6 } }] };

const steps = (...list: Step[]): PlanEntry[] => planOf(...list).steps;
const branch = (id: string, list: PlanEntry[], more: object = {}): Branch => ({
  id,
  name: id,
  on: true,
  opacity: 100,
  steps: list,
  ...more,
});
const fork = (id: string, ...branches: Branch[]): Fork => ({ id, on: true, branches });
/** As it would come from outside. */
const plan = (...entries: PlanEntry[]): Plan => readPlan(JSON.parse(JSON.stringify(emptyPlan(entries))));
const output = async (p: Plan, n = 2, stream: StreamInfo = info): Promise<Picture> => {
  const node = graphOver(stream, (k) => picture(stream, k), p).output;
  return node.frame(n, wholeRegion(node.stream));
};

const GENTLE: Step = ['grain', { luma: 3, chroma: 0, keep: 0 }],
  STRONG: Step = ['grain', { luma: 25, chroma: 25, keep: 0 }];

describe('a fork', () => {
  it('shows a strong result on the faces alone, and the gentle one elsewhere, to the last bit', async () => {
    const p = plan(fork('f', branch('gentle', steps(GENTLE)), branch('strong', steps(STRONG), { mask: FACE })));
    const [both, gentle, strong] = [await output(p), await output(planOf(GENTLE)), await output(planOf(STRONG))];
    const at = (pic: Picture, x: number, y: number): number => pic.planes[0].data[y * info.width + x];
    for (const [x, y] of [
      [10, 10],
      [60, 110],
      [155, 5],
    ])
      expect(at(both, x, y)).toBe(at(gentle, x, y));
    for (const [x, y] of [
      [112, 60],
      [100, 50],
      [120, 80],
    ])
      expect(at(both, x, y)).toBe(at(strong, x, y));
  });

  it('lays one result over another as far as its opacity says', async () => {
    const p = plan(fork('f', branch('a', steps(GENTLE)), branch('b', steps(STRONG), { opacity: 40 })));
    const [both, a, b] = [await output(p), await output(planOf(GENTLE)), await output(planOf(STRONG))];
    both.planes.forEach((plane, i) =>
      plane.data.forEach((v, k) => expect(Math.abs(v - (0.6 * a.planes[i].data[k] + 0.4 * b.planes[i].data[k]))).toBeLessThanOrEqual(0.51)),
    );
  });

  it('leaves the picture as it came where no branch covers it', async () => {
    const p = plan(fork('f', branch('strong', steps(STRONG), { mask: FACE })));
    const made = await output(p);
    const came = picture(info, 2);
    for (const i of [0, 50, 160 * 119]) expect(made.planes[0].data[i]).toBe(came.planes[0].data[i]);
    expect((await output(plan(fork('f', branch('empty', []))))).planes).toEqual(came.planes);
    expect((await output(plan({ ...fork('f', branch('a', steps(STRONG))), on: false }))).planes).toEqual(came.planes);
    expect((await output(plan(fork('f', branch('a', steps(STRONG), { on: false }))))).planes).toEqual(came.planes);
  });

  it('holds a branch to a stretch of time', async () => {
    const p = plan(fork('f', branch('a', steps(GENTLE)), branch('b', steps(STRONG), { span: { first: 2, last: 3 } })));
    expect((await output(p, 1)).planes).toEqual((await output(planOf(GENTLE), 1)).planes);
    expect((await output(p, 2)).planes).toEqual((await output(planOf(STRONG), 2)).planes);
  });

  it('gives any part as it is in the whole, with forks in forks, masks, spans and steps after', async () => {
    const inner = fork(
      'in',
      branch('x', steps(['regrain', { amount: 3 }])),
      branch('y', steps(['focus', { blur: 0.7 }]), { mask: FACE, opacity: 70 }),
    );
    const p = plan(
      ...steps(['crop', { left: 8, top: 4 }]),
      fork(
        'f',
        branch('a', steps(GENTLE)),
        branch('b', [...steps(STRONG), inner], { mask: { ...FACE, inverse: true }, opacity: 60, span: { first: 1, last: 4 } }),
      ),
      ...steps(['upscale', { target: 'factor', factor: 1.5 }]),
    );
    const whole = await output(p, 3);
    await fc.assert(
      fc.asyncProperty(fc.nat(190), fc.nat(140), async (x, y) => {
        const region = { x: x & ~1, y: y & ~1, width: 36, height: 28 };
        const node = graphOver(info, (k) => picture(info, k), p).output;
        const part = await node.frame(3, region);
        expect(part.planes).toEqual(cutPicture(whole, region).planes);
      }),
      { numRuns: 12 },
    );
  });

  it('does not work a branch where it is not seen', async () => {
    const p = plan(fork('f', branch('a', steps(GENTLE)), branch('b', steps(STRONG), { mask: FACE })));
    const graph = graphOver(info, (k) => picture(info, k), p);
    await graph.output.frame(0, { x: 0, y: 0, width: 32, height: 32 });
    expect([graph.node('a')?.spent.frames, graph.node('b')?.spent.frames]).toEqual([1, 0]);
  });

  it('with one branch alone is what that branch gives', async () => {
    const p = plan(
      fork('f', branch('a', steps(GENTLE)), branch('b', steps(STRONG), { mask: FACE, opacity: 30 })),
      ...steps(['regrain', {}]),
    );
    expect((await output(soloed(p, 'b'))).planes).toEqual((await output(planOf(STRONG, ['regrain', {}]))).planes);
    expect(soloed(p, 'nobody')).toEqual(p);
  });

  it('refuses branches that do not fit over one another, in words', () => {
    const over =
      (...list: Step[]) =>
      () =>
        layOut(plan(fork('f', branch('a', []), branch('other', steps(...list)))), info);
    expect(over(['upscale', { target: 'factor', factor: 2 }])).toThrow(/"other" gives \d+ × 240 px and lies over 160 × 120 px/);
    expect(over(['trim', { first: 1 }])).toThrow('"other" changes the running time');
    expect(over(['crop', { left: 8 }])).toThrow('what changes the size');
    const shifted = plan(fork('f', branch('a', steps(['crop', { left: 8 }])), branch('b', steps(['crop', { right: 8 }]))));
    expect(() => layOut(shifted, info)).toThrow('"b" shows another part of the picture');
    // Both may change alike.
    const alike = plan(fork('f', branch('a', steps(['crop', { left: 8 }])), branch('b', steps(['crop', { left: 8 }], STRONG))));
    expect(layOut(alike, info).output.stream.width).toBe(152);
  });
});

describe('a plan with forks', () => {
  const p = plan(
    fork(
      'f',
      branch('a', steps(GENTLE)),
      branch('b', steps(['upscale', { target: 'factor', factor: 1 }], STRONG), { opacity: 40, mask: FACE }),
    ),
    ...steps(['focus', { quality: 'best' }]),
  );

  it('is read as it was written, and said what is wrong with it', () => {
    expect(plan(...p.steps)).toEqual(p);
    const wrong = (change: object) => () => readPlan({ ...p, steps: [{ ...(p.steps[0] as Fork), ...change }] });
    expect(wrong({ on: 'yes' })).toThrow('Step 1, fork: "on" must be true or false');
    expect(wrong({ branches: [] })).toThrow('a fork has up to 8 branches');
    const [first] = (p.steps[0] as Fork).branches;
    expect(wrong({ branches: [{ ...first, opacity: 140 }] })).toThrow('Step 1, branch 1: its opacity goes from 0 to 100 %');
    expect(wrong({ branches: [{ ...first, name: '' }] })).toThrow('a branch has a name');
    expect(wrong({ branches: [{ ...first, steps: [{ treatment: 'shine', on: true }] }] })).toThrow(
      'Step 1, branch 1, Step 1: there is no treatment "shine"',
    );
    const deep = (n: number): object =>
      n ? { ...fork('', branch('', [deep(n - 1) as PlanEntry])), branches: [{ ...first, id: '', steps: [deep(n - 1)] }] } : {};
    expect(() => readPlan({ ...p, steps: [deep(5)] })).toThrow('forks lie within forks up to 3 deep');
  });

  it('warns within its branches, by what comes before them', () => {
    expect(planWarnings(p, layOut(p, info)).map((w) => w.text)).toEqual([
      'Grain is better taken off before it is enlarged. Move it above Upscale.',
    ]);
  });

  it('is compared, kept as a template and made anew from it', () => {
    const changed = plan(fork('f', branch('a', steps(GENTLE)), branch('b', steps(STRONG), { opacity: 80 })));
    expect(planChanges(p, changed)).toEqual(['branch b: opacity 80 % (40 %), seen everywhere', 'b, Upscale removed', 'Focus removed']);
    const template = templateOf(
      p,
      'Two ways',
      '',
      Object.fromEntries(
        allSteps(p)
          .filter((s) => 'luma' in s.settings)
          .map((s) => [s.id, ['luma']]),
      ),
    );
    const made = planFromTemplate(template, reportOf({ grainLuma: 5 }), info);
    const [both] = made.steps;
    // The mask belonged to that picture: its branch waits, switched off.
    expect(isFork(both) && both.branches.map((b) => [b.name, b.on, b.opacity])).toEqual([
      ['a', true, 100],
      ['b', false, 40],
    ]);
    expect(allSteps(made).map((s) => s.settings.luma)).toEqual([3, undefined, 25, undefined]);
  });

  it('holds every step of its branches to what the source says, for the evidence', () => {
    const inventing = plan(fork('f', branch('a', steps(['focus', { quality: 'best' }])), branch('b', steps(GENTLE))));
    expect(allSteps(supportedPlan(inventing) as Plan)[0].settings).toMatchObject({ strength: 0 });
  });
});
