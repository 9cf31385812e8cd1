import { describe, expect, it } from 'vitest';
import { cutPicture, growRegion } from '../picture/picture';
import { pageOf } from '../testing/page';
import { findInks, INKS } from './inks';
import { phaseBorder, lightOf, thresholdsOf } from './phases';
import { turnedBy } from './screens';

const ANGLES = { black: 52, cyan: 22, magenta: 82, yellow: 7 };
const four = pageOf({ width: 384, height: 320, period: 5.3, angles: ANGLES });
const one = pageOf({ width: 384, height: 320, period: 4.4, angles: { black: 38 } });

describe('the inks of a print', () => {
  it('are found with their angles', () => {
    const inks = findInks(four.picture);
    expect(inks.map((s) => s.ink)).toEqual([...INKS]);
    for (const { ink, angle, period } of inks) {
      expect(turnedBy(angle, ANGLES[ink])).toBeLessThan(0.5);
      expect(period).toBeCloseTo(5.3, 1);
    }
  });

  it('are black alone in a grey print', () => {
    const inks = findInks(one.picture);
    expect(inks.map((s) => s.ink)).toEqual(['black']);
    expect(inks[0].angle).toBeCloseTo(38, 0);
  });

  it('are none where nothing was printed', () => {
    expect(findInks(four.true)).toEqual([]);
  });
});

describe('thresholds', () => {
  const part = { x: 40, y: 56, width: 120, height: 90 };
  const off = (values: Float32Array, ink: keyof typeof ANGLES): number =>
    values.reduce((sum, v, i) => sum + Math.abs(v - four.threshold(ink, part.x + (i % 120), part.y + Math.floor(i / 120))), 0) /
    values.length;

  it.each(INKS)('of %s lie where its dots were made, though the angle is told a little wrong', (ink) => {
    const values = thresholdsOf(lightOf(ink, four.picture), { period: 5.3, angle: ANGLES[ink] + 0.3 }, part);
    // A threshold off by nothing in particular is off by a third.
    expect(off(values, ink)).toBeLessThan(0.08);
  });

  it('are those of the whole in every part', () => {
    const light = lightOf('cyan', four.picture);
    const screen = { period: 5.3, angle: 22 };
    const whole = thresholdsOf(light, screen, four.picture.region);
    const region = growRegion(part, phaseBorder(5.3), 2, four.picture.region);
    expect(region.width).toBeLessThan(384);
    const cut = lightOf('cyan', cutPicture(four.picture, region));
    thresholdsOf(cut, screen, part).forEach((v, i) => expect(v).toBe(whole[(part.y + Math.floor(i / 120)) * 384 + part.x + (i % 120)]));
  });
});
