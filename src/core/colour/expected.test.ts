import { describe, expect, it } from 'vitest';
import { colourDifference, labOf } from '../metrics/colourDifference';
import { randomStream } from '../picture/random';
import { CLASSES, type Chroma } from './classes';
import { leastOff } from './expected';

/** Likelihoods of some classes, the others' none. */
function likelihoods(of: readonly (Chroma & { likely: number })[]): Float32Array {
  const all = of.reduce((sum, { likely }) => sum + likely, 0);
  return Float32Array.from(CLASSES, (c) => (of.find(({ cb, cr }) => cb === c.cb && cr === c.cr)?.likely ?? 0) / all);
}

const ORANGE = { cb: -36, cr: 36 },
  BLUE = { cb: 36, cr: -24 };

describe('the strength at which a colour is least off', () => {
  it('is its own where it is sure', () => {
    for (const luma of [60, 128, 200])
      expect(Math.abs(leastOff(likelihoods([{ ...ORANGE, likely: 1 }]), ORANGE, luma) - 1)).toBeLessThan(0.1);
    expect(leastOff(likelihoods([{ ...ORANGE, likely: 1 }]), { cb: -24, cr: 24 }, 128)).toBeGreaterThan(1.3);
  });

  it('is less the likelier it is that there is another colour, or none', () => {
    for (const other of [BLUE, { cb: 0, cr: 0 }]) {
      const strengths = [0.1, 0.5, 2, 9].map((likely) =>
        leastOff(
          likelihoods([
            { ...ORANGE, likely: 1 },
            { ...other, likely },
          ]),
          { cb: -24, cr: 24 },
          128,
        ),
      );
      strengths.slice(1).forEach((strength, n) => expect(strength).toBeLessThanOrEqual(strengths[n] + 0.02));
      expect(strengths[0]).toBeGreaterThan(1.1);
      expect(strengths[3]).toBeLessThan(0.35);
    }
  });

  it('is nearly that of least expected CIEDE2000, for colours that there are at a middle lightness', () => {
    const pale = CLASSES.filter(({ cb, cr }) => Math.hypot(cb, cr) < 50);
    const random = randomStream(11);
    const light = (v: number): number => Math.min(1, Math.max(0, v / 255)) ** 2.2;
    const lab = (y: number, { cb, cr }: Chroma) => labOf(light(y + 1.402 * cr), light(y - 0.344 * cb - 0.714 * cr), light(y + 1.772 * cb));
    const ratios = Array.from({ length: 150 }, () => {
      const luma = 100 + 60 * random();
      const of = Array.from({ length: 5 }, () => ({ ...pale[Math.floor(pale.length * random())], likely: 0.1 + random() }));
      const likely = likelihoods(of);
      const all = CLASSES.map((chroma, k) => ({ chroma, likely: likely[k] })).filter((one) => one.likely > 0);
      const mean = {
        cb: all.reduce((sum, { chroma, likely: share }) => sum + share * chroma.cb, 0),
        cr: all.reduce((sum, { chroma, likely: share }) => sum + share * chroma.cr, 0),
      };
      const off = (strength: number): number => {
        const here = lab(luma, { cb: strength * mean.cb, cr: strength * mean.cr });
        return all.reduce((sum, { chroma, likely: share }) => sum + share * colourDifference(here, lab(luma, chroma)), 0);
      };
      return off(leastOff(likely, mean, luma)) / Math.min(...[0, 0.2, 0.4, 0.6, 0.8, 1, 1.2, 1.4, 1.6].map(off));
    });
    expect(ratios.reduce((sum, v) => sum + v, 0) / ratios.length).toBeLessThan(1.02);
    expect(Math.max(...ratios)).toBeLessThan(1.25);
  });
});
