import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chosen, CLASSES, doubtOf } from './classes';

const likelihoods = fc
  .array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: CLASSES.length, maxLength: CLASSES.length })
  .map((list) => {
    const all = list.reduce((sum, v) => sum + v, 1e-9);
    return list.map((v) => v / all);
  });
const sureOf = (k: number): number[] => CLASSES.map((_, i) => (i === k ? 1 : 0));

describe('classes of colour', () => {
  it('lie on a raster round grey, as many as the network answers', () => {
    expect(CLASSES).toHaveLength(149);
    expect(CLASSES.some(({ cb, cr }) => cb === 0 && cr === 0)).toBe(true);
    const names = new Set(CLASSES.map(({ cb, cr }) => `${cb},${cr}`));
    expect(names.size).toBe(149);
    // What is there lies opposite too.
    for (const { cb, cr } of CLASSES) expect(names.has(`${-cb || 0},${-cr || 0}`)).toBe(true);
  });

  it('are taken as they are where the network is sure', () => {
    for (const k of [0, 20, 74, 148]) {
      for (const leaning of ['likely', 'warm', 'cool'] as const) {
        const { cb, cr } = chosen(sureOf(k), leaning);
        expect(cb).toBeCloseTo(CLASSES[k].cb, 9);
        expect(cr).toBeCloseTo(CLASSES[k].cr, 9);
      }
      expect(doubtOf(sureOf(k))).toBeCloseTo(0, 9);
    }
  });

  it('of two that are as likely, the warmer is leant to where that is wanted', () => {
    const [a, b] = [CLASSES.findIndex(({ cb, cr }) => cb === -48 && cr === 48), CLASSES.findIndex(({ cb, cr }) => cb === 48 && cr === -48)];
    const both = CLASSES.map((_, i) => (i === a || i === b ? 0.5 : 0));
    expect(chosen(both, 'likely').cr).toBeCloseTo(0, 9);
    expect(chosen(both, 'warm').cr).toBeGreaterThan(10);
    expect(chosen(both, 'cool').cr).toBeLessThan(-10);
    expect(doubtOf(both)).toBeCloseTo(48 * Math.SQRT2, 6);
  });

  it('never lead out of what there is', () => {
    fc.assert(
      fc.property(likelihoods, (likely) => {
        const { cb, cr } = chosen(likely, 'likely');
        expect(Math.hypot(cb, cr)).toBeLessThanOrEqual(84 + 1e-6);
        expect(doubtOf(likely)).toBeLessThanOrEqual(84 + 1e-6);
        const [warm, cool] = [chosen(likely, 'warm'), chosen(likely, 'cool')];
        expect(warm.cr - warm.cb).toBeGreaterThanOrEqual(cool.cr - cool.cb - 1e-9);
      }),
      { numRuns: 40 },
    );
  });
});
