import { describe, expect, it } from 'vitest';
import { reportOf } from '../testing/reports';
import { streamInfo } from '../testing/pictures';
import { planOf } from '../testing/plans';
import { layOut } from '../graph/layout';
import type { PlainPlan } from '../../shared/plan';
import { readPlan } from './read';
import { planFromTemplate, readTemplate, templateOf } from './template';
import { SHIPPED_TEMPLATES } from './templates';

const tape = streamInfo({ width: 720, height: 576, fieldOrder: 'bottom-first', frames: 50 });
const scan = streamInfo({ width: 1200, height: 800, frames: 1, chromaShiftX: 0, chromaShiftY: 0 });
const noisy = reportOf({ scan: 'interlaced', fieldOrder: 'bottom-first', grainLuma: 6.2, grainChroma: 9, coding: 14 });

describe('a template', () => {
  const plan = planOf(['deinterlace', { order: 'top', rate: 'single' }], ['grain', { luma: 3, keep: 40 }], ['regrain', { amount: 2 }]);
  const [deinterlace, grain, regrain] = plan.steps;
  const template = templateOf(plan, ' Ours ', 'tapes', { [deinterlace.id]: ['rate'], [grain.id]: ['keep'], [regrain.id]: ['amount'] });

  it('keeps what is fixed and measures the rest anew on each item', () => {
    expect(template.name).toBe('Ours');
    const { steps } = planFromTemplate(template, noisy, tape) as PlainPlan;
    expect(steps[0].settings).toMatchObject({ rate: 'single', order: 'bottom' });
    expect(steps[1].settings).toMatchObject({ keep: 40, luma: 6.2 });
    expect(steps[1].measured).toMatchObject({ keep: 10, luma: 6.2 });
    expect(steps[2].settings).toMatchObject({ amount: 2 });
  });

  it('leaves out what an item has no use for', () => {
    expect(
      (planFromTemplate(template, reportOf({ scan: 'still', grainLuma: 4 }), scan) as PlainPlan).steps.map((s) => s.treatment),
    ).toEqual(['grain', 'regrain']);
  });

  it('comes back from JSON as it was', () => {
    expect(readTemplate(JSON.parse(JSON.stringify(template)))).toEqual(template);
  });

  it.each([
    ['no template', { format: 'wairetic-plan' }, 'This is no template'],
    ['another version', { version: 2 }, 'version 2'],
    ['no name', { name: '  ' }, 'has a name'],
    ['steps that are none', { steps: 'all' }, 'a list of up to'],
    ['a treatment nobody knows', { steps: [{ treatment: 'magic', on: true, settings: {} }] }, 'no treatment "magic"'],
    ['a switch between', { steps: [{ treatment: 'grain', on: 'maybe', settings: {} }] }, '"measured"'],
    ['a setting out of bounds', { steps: [{ treatment: 'grain', on: true, settings: { luma: 900 } }] }, 'Luma must lie between'],
    ['a setting nobody knows', { steps: [{ treatment: 'grain', on: true, settings: { sparkle: 1 } }] }, 'Grain'],
  ])('with %s is refused in words', (_, part, words) => {
    expect(() => readTemplate({ ...template, ...part })).toThrow(words);
  });
});

describe('the templates that come with the program', () => {
  const kinds = SHIPPED_TEMPLATES.map((t) => t.name);

  it('are there for every kind of source, each by its own name', () => {
    expect(kinds).toHaveLength(12);
    expect(new Set(kinds).size).toBe(12);
  });

  it.each(SHIPPED_TEMPLATES)('$name makes plans that run', (template) => {
    for (const source of [tape, scan]) {
      const plan = planFromTemplate(template, source === tape ? noisy : reportOf({ scan: 'still', grainLuma: 4, coding: 12 }), source);
      expect(readPlan(JSON.parse(JSON.stringify(plan)))).toEqual(plan);
      expect(layOut(plan, source).nodes.size).toBeGreaterThan(1);
    }
  });
});
