import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { wholeRegion, type Picture } from '../picture/picture';
import { picture, streamInfo } from '../testing/pictures';
import { planOf, runOver, type Step } from '../testing/plans';
import type { PlanRun } from './executor';
import { maskValues, readMask, type Mask } from './mask';

const mask = (part: object): Mask => {
  const result = readMask({ areas: [{ shape: 'box', x: 0.25, y: 0.25, width: 0.5, height: 0.5 }], ...part });
  if ('problems' in result) throw new Error(result.problems.join());
  return result.mask;
};
const FRAME = { width: 80, height: 60 };
const WHOLE = { x: 0, y: 0, ...FRAME };

describe('a mask', () => {
  it('is 1 in its areas, 0 away from them, and half on their edge', () => {
    const values = maskValues(mask({ soft: 0.1 }), FRAME, WHOLE);
    const at = (x: number, y: number): number => values[y * FRAME.width + x];
    expect(at(40, 30)).toBe(1);
    expect(at(5, 5)).toBe(0);
    // Half a pixel inside the box's edge at 20, of a transition of 6 pixels.
    expect(at(20, 30)).toBeCloseTo(0.5 + 0.5 / 6, 5);
    const oval = maskValues(mask({ areas: [{ shape: 'oval', x: 0.25, y: 0.25, width: 0.5, height: 0.5 }], soft: 0 }), FRAME, WHOLE);
    expect(oval[30 * 80 + 40]).toBe(1);
    expect(oval[16 * 80 + 21]).toBe(0);
    const area = oval.reduce((a, b) => a + b) / (Math.PI * 20 * 15);
    expect(area).toBeCloseTo(1, 1);
  });

  it('joins its areas, and turned outside is what they leave', () => {
    const two = { areas: [...mask({}).areas, { shape: 'oval' as const, x: 0, y: 0, width: 0.4, height: 0.9 }], soft: 0.05 };
    const inside = maskValues(mask(two), FRAME, WHOLE),
      outside = maskValues(mask({ ...two, outside: true }), FRAME, WHOLE);
    inside.forEach((v, i) => expect(v + outside[i]).toBeCloseTo(1, 6));
    const first = maskValues(mask({ soft: 0.05 }), FRAME, WHOLE);
    inside.forEach((v, i) => expect(v).toBeGreaterThanOrEqual(first[i]));
  });

  it('of a part of the frame is the part of the mask of the whole', () => {
    const whole = maskValues(mask({ soft: 0.2 }), FRAME, WHOLE);
    fc.assert(
      fc.property(fc.nat(60), fc.nat(40), fc.integer({ min: 1, max: 19 }), fc.integer({ min: 1, max: 19 }), (x, y, width, height) => {
        const part = maskValues(mask({ soft: 0.2 }), FRAME, { x, y, width, height });
        for (let i = 0; i < part.length; i++) expect(part[i]).toBe(whole[(y + Math.floor(i / width)) * FRAME.width + x + (i % width)]);
      }),
      { numRuns: 40 },
    );
  });

  it.each([
    ['no areas', { areas: [] }],
    ['a shape nobody knows', { areas: [{ shape: 'star', x: 0, y: 0, width: 1, height: 1 }] }],
    ['a place far outside', { areas: [{ shape: 'box', x: 7, y: 0, width: 1, height: 1 }] }],
    ['no size', { areas: [{ shape: 'box', x: 0, y: 0, width: 0, height: 1 }] }],
    ['a softness of a word', { soft: 'very' }],
    ['something else beside', { colour: 'red' }],
  ])('with %s is refused in words', (_, part) => {
    const result = readMask({ areas: [{ shape: 'box', x: 0, y: 0, width: 1, height: 1 }], ...part });
    expect('problems' in result && result.problems[0]).toMatch(/^mask: .{8}/);
  });

  it('is refused by a step that changes the whole picture', () => {
    expect(() => planOf(['upscale', {}, { areas: mask({}).areas }])).toThrow(
      /Step 1, Upscale: it changes the whole picture and takes no mask/,
    );
  });
});

describe('a masked step', () => {
  const info = streamInfo({ width: 160, height: 120, frames: 5 });
  const frames = Array.from({ length: info.frames }, (_, n) => picture(info, n));
  const run = (...steps: Step[]): PlanRun => runOver(info, (n) => frames[n], ...steps);
  const right = { areas: [{ shape: 'box', x: 0.5, y: 0, width: 0.5, height: 1 }], soft: 0.02 };
  const changed = (a: Picture, b: Picture, from: number, to: number): number => {
    let most = 0;
    for (const [index, plane] of a.planes.entries()) {
      const shift = index ? 1 : 0;
      for (let i = 0; i < plane.data.length; i++) {
        const x = (i % plane.width) << shift;
        if (x >= from && x < to) most = Math.max(most, Math.abs(plane.data[i] - b.planes[index].data[i]));
      }
    }
    return most;
  };

  it.each([
    ['grain', { luma: 20, chroma: 20, keep: 0 }, 300],
    ['grain', { quality: 'best', luma: 20, chroma: 20, keep: 0, neighbours: 0 }, 300],
    ['grain', { quality: 'best', luma: 20, chroma: 20, keep: 0 }, 300],
    ['focus', { quality: 'best', blur: 1.2 }, 300],
    ['regrain', {}, 300],
  ])('%s %o leaves what is outside as it was, and works inside', async (treatment, settings, least) => {
    const made = await run([treatment, settings, right]).picture(2, wholeRegion(info));
    expect(changed(made, frames[2], 0, 76)).toBe(0);
    expect(changed(made, frames[2], 88, 160)).toBeGreaterThan(least);
  });

  it('steers its own part of one pass of the network with others', async () => {
    const both = run(
      ['grain', { quality: 'best', luma: 20, chroma: 0, keep: 0, neighbours: 0 }, right],
      ['focus', { quality: 'best', blur: 1.2 }, { ...right, outside: true }],
    );
    const made = await both.picture(2, wholeRegion(info));
    expect(both.spent.map((s) => s.frames)).toEqual([0, 1]);
    const alone = await run(['focus', { quality: 'best', blur: 1.2 }]).picture(2, wholeRegion(info));
    // Far from the border between them the left half is what Focus makes by itself.
    expect(changed(made, alone, 0, 24)).toBeLessThan(300);
    expect(changed(made, alone, 110, 160)).toBeGreaterThan(300);
  });
});
