import fc from 'fast-check';
import { PlanError } from '../treatments/treatment';
import { describe, expect, it } from 'vitest';
import type { ConditionReport, Measurements } from '../condition/report';
import { planOf as plan } from '../testing/plans';
import { streamInfo } from '../testing/pictures';
import { reportOf } from '../testing/reports';
import { settingSpecs } from '../treatments/setting';
import { TREATMENTS } from '../treatments/register';
import { layOut, outputStream } from '../graph/layout';
import { emptyPlan, type Plan } from '../../shared/plan';
import { proposePlan, stamped } from './plan';
import { readPlan } from './read';
import { planWarnings } from './warnings';

const report = (m: Partial<Measurements> = {}): ConditionReport =>
  reportOf({ scan: 'interlaced', fieldOrder: 'bottom-first', grainLuma: 4.04, grainChroma: 2, grainSize: 0.5, blur: 0.4, ...m });
const sd = streamInfo({
  width: 720,
  height: 480,
  pixelAspect: { num: 8, den: 9 },
  fieldOrder: 'bottom-first',
  frames: 100,
  rate: { num: 30000, den: 1001 },
});

describe('readPlan', () => {
  it('fills in defaults and keeps what is given', () => {
    const { steps } = plan(['grain', { luma: 9 }]);
    expect(steps[0]).toMatchObject({ treatment: 'grain', on: true, settings: { luma: 9, chroma: 4, keep: 10 } });
    expect(readPlan(JSON.parse(JSON.stringify({ format: 'wairetic-plan', version: 2, steps })))).toEqual({
      format: 'wairetic-plan',
      version: 2,
      steps,
    });
  });

  it('says what is wrong, and where', () => {
    const wrong = (steps: unknown) => () => readPlan({ format: 'wairetic-plan', version: 2, steps });
    expect(() => readPlan(null)).toThrow('This is no plan');
    expect(() => readPlan({ format: 'wairetic-plan', version: 3 })).toThrow('reads versions 1 and 2');
    expect(wrong('x')).toThrow('a list of up to 64 steps');
    expect(wrong([{ treatment: 'polish', on: true }])).toThrow('Step 1: there is no treatment "polish"');
    expect(wrong([{ treatment: 'grain', on: 1 }])).toThrow('"on" must be true or false');
    expect(wrong([{ treatment: 'grain', on: true, settings: { luma: -1 } }])).toThrow('Luma must lie between 0 and 60');
    expect(wrong([{ treatment: 'grain', on: true, settings: { lustre: 1 } }])).toThrow('lustre');
    expect(wrong([{ treatment: 'upscale', on: true, settings: { target: '9000p' } }])).toThrow('Upscale');
  });

  it('never takes anything but a plan, whatever comes', () => {
    fc.assert(
      fc.property(fc.anything(), (given) => {
        try {
          const { steps } = readPlan({ format: 'wairetic-plan', version: 2, steps: given });
          expect(Array.isArray(steps)).toBe(true);
        } catch (error) {
          expect(error).toBeInstanceOf(PlanError);
        }
      }),
    );
  });
});

describe('proposePlan', () => {
  it('answers what was measured', () => {
    const steps = proposePlan(report(), sd).steps;
    const on = steps.filter((s) => s.on);
    expect(on.map((s) => s.treatment)).toEqual(['deinterlace', 'grain', 'upscale']);
    expect(on[0].settings).toMatchObject({ order: 'bottom', rate: 'double' });
    expect(on[1].settings).toMatchObject({ luma: 4, chroma: 2, size: 0.5 });
    for (const s of steps) expect(s.measured).toEqual(s.settings);
    const output = outputStream(emptyPlan(steps), sd);
    expect(output).toMatchObject({
      width: 1440,
      height: 1080,
      frames: 200,
      rate: { num: 60000, den: 1001 },
      pixelAspect: { num: 1, den: 1 },
      depth: 10,
      fieldOrder: 'progressive',
    });
    expect(output.colour.matrix).toBe('bt709');
  });

  it('holds what was measured within what the treatments take', () => {
    const { steps } = proposePlan(report({ grainLuma: 80, grainSize: 2, coding: 90, grainChroma: 70 }), sd);
    expect(steps.find((s) => s.treatment === 'grain')?.settings).toMatchObject({ luma: 60, chroma: 60, size: 1.6 });
    expect(steps.find((s) => s.treatment === 'compression')?.settings).toMatchObject({ coding: 64 });
  });

  it('crops measured bars and leaves clean progressive frames alone', () => {
    const steps = proposePlan(
      report({ scan: 'progressive', grainLuma: 0.4, grainChroma: 0.2, bars: { left: 8, right: 6, top: 0, bottom: 0 } }),
      { ...sd, fieldOrder: 'progressive' },
    ).steps.filter((s) => s.on);
    expect(steps.map((s) => s.treatment)).toEqual(['crop', 'upscale']);
    expect(steps[0].settings).toMatchObject({ left: 8, right: 6 });
  });
});

describe('plans', () => {
  it('double frames and rate exactly, and stay exact for a single rate', () => {
    const double = outputStream(plan(['deinterlace']), sd);
    expect([double.frames, double.rate]).toEqual([200, { num: 60000, den: 1001 }]);
    const single = outputStream(plan(['deinterlace', { rate: 'single' }]), sd);
    expect([single.frames, single.rate]).toEqual([100, { num: 30000, den: 1001 }]);
  });

  it('warn where the order does harm', () => {
    const words = (p: Plan) => planWarnings(p, layOut(p, sd)).map((w) => w.text);
    expect(words(plan(['grain'], ['deinterlace']))[0]).toContain('still interlaced');
    expect(words(plan(['deinterlace'], ['regrain'], ['grain']))[0]).toContain('after it was put back');
    expect(words(plan(['deinterlace'], ['upscale'], ['grain']))[0]).toContain('before it is enlarged');
    expect(words(plan(['deinterlace'], ['regrain'], ['focus']))[0]).toContain('sharpens the grain');
    expect(words(plan(['deinterlace'], ['regrain'], ['upscale']))[0]).toContain('enlarged with the picture');
    expect(words(plan(['deinterlace'], ['grain'], ['compression']))[0]).toContain('above Grain');
    expect(words(plan(['deinterlace'], ['upscale']))).toEqual([]);
    expect(words(plan(['upscale'], ['deinterlace']))[0]).toContain('combs get into the result');
    expect(words(plan(['deinterlace'], ['grain'], ['upscale'], ['regrain']))).toEqual([]);
  });

  it('tell Grain what becomes of it where dark parts are made lighter afterwards', () => {
    const told = (p: Plan) => planWarnings(p, layOut(p, sd));
    const lifted = plan(['deinterlace'], ['grain', { luma: 4, keep: 10 }], ['tone', { light: 2 }]);
    const [{ step, text }] = told(lifted);
    expect(step).toBe(lifted.steps[1].id);
    const [, seen, keep] = /as strong as ([\d.]+)\. Keep (\d+) %/.exec(text) ?? [];
    expect(Number(seen)).toBeGreaterThan(6);
    expect(Number(seen)).toBeLessThan(10);
    expect(Number(keep)).toBe(Math.floor((10 * 4) / Number(seen)));
    expect(told(plan(['deinterlace'], ['grain', { luma: 4 }], ['tone', { light: 0.2 }]))).toEqual([]);
    expect(told(plan(['deinterlace'], ['tone', { light: 2 }]))).toEqual([]);
    const off = { ...lifted, steps: lifted.steps.map((s, n) => (n === 1 ? { ...s, on: false } : s)) } as Plan;
    expect(told(off)).toEqual([{ step: lifted.steps[2].id, text: expect.stringContaining('Grain is off') as string }]);
  });

  it('warn of a treatment that was looked at in another version, until they are looked at again', () => {
    const made = plan(['deinterlace'], ['upscale']);
    const [first, last] = stamped(made).steps;
    const older: Plan = { ...made, steps: [first, { ...last, version: 99 }] };
    expect(planWarnings(older, layOut(older, sd))).toEqual([
      { step: made.steps[1].id, text: expect.stringContaining('looked at in version 99') as string },
    ]);
    expect(planWarnings(stamped(older), layOut(older, sd))).toEqual([]);
    expect(readPlan(older)).toEqual(older);
    expect(() => readPlan({ ...made, steps: [{ ...made.steps[0], version: 0.5 }] })).toThrow('its version is a whole number');
  });

  it('refuse what cannot work, in words', () => {
    expect(() => outputStream(plan(['crop', { left: 700, right: 20 }]), sd)).toThrow('at least 16 x 16 must stay');
    expect(() => outputStream(plan(['trim', { first: 50, last: 20 }]), sd)).toThrow('Trim keeps nothing');
    expect(() => outputStream(plan(['fit']), sd)).toThrow('put Deinterlace before');
    expect(() =>
      outputStream(plan(['upscale', { target: 'factor', factor: 16 }], ['upscale', { target: 'factor', factor: 16 }]), sd),
    ).toThrow('limit');
  });
});

describe('treatments', () => {
  it('each describe their settings with help and bounds, within which the defaults lie', () => {
    for (const treatment of TREATMENTS) {
      for (const spec of settingSpecs(treatment.settings)) {
        expect(spec.help.length).toBeGreaterThan(10);
        if (spec.kind === 'number') {
          expect(spec.default).toBeGreaterThanOrEqual(spec.min as number);
          expect(spec.default).toBeLessThanOrEqual(spec.max as number);
        } else if (spec.kind === 'choice') expect(spec.options?.map((o) => o.value)).toContain(spec.default);
      }
    }
  });
});
