import { describe, expect, it } from 'vitest';
import { newPlane, SIGMA_UNIT, type Plane } from '../picture/picture';
import { noisyPlane } from '../testing/pictures';
import { atLeast, confidenceOf } from './doubt';
import { LIKELY, SURE } from './report';
import { withStatistics, withWhiteNoise } from './stillGrain';

const reading = (value: number, doubt: number) => ({ grain: { value, doubt }, size: 0.4 });

describe('withWhiteNoise', () => {
  it('is sure where both say the same, and of more than any texture shows', () => {
    const same = withWhiteNoise(reading(5, 0.45), 4.9).grain,
      strong = withWhiteNoise(reading(9, 1.8), 22).grain;
    expect(confidenceOf(same.doubt)).toBeGreaterThan(LIKELY);
    expect(strong.value).toBeCloseTo(24, 0);
    expect(confidenceOf(strong.doubt)).toBeGreaterThan(SURE);
  });

  it('leaves a reading alone that texture may have caused, and grain that hangs together', () => {
    for (const shown of [0.4, 1, 10]) expect(withWhiteNoise(reading(4, 0.9), shown).grain).toEqual(reading(4, 0.9).grain);
    expect(withWhiteNoise(reading(30, 0.4), 14).grain).toEqual(reading(30, 0.4).grain);
  });

  it('acts on more of a doubtful reading where plain parts say the same', () => {
    const [confirmed, other] = [4, 9].map((shown) => withWhiteNoise(reading(4, 0.9), shown));
    expect(confirmed.grain).toEqual(other.grain);
    expect(confirmed.least).toBeCloseTo(atLeast(confirmed.grain));
    expect(other.least).toBeLessThan(confirmed.least / 2);
  });
});

describe('withStatistics', () => {
  const step = { value: 0, doubt: 0.1 };
  const asphalt = noisyPlane(newPlane(320, 240, 30000), 4 * SIGMA_UNIT, 3);
  /** Tones of several lightnesses under one noise. */
  const tones: Plane = noisyPlane(
    { ...newPlane(320, 240), data: newPlane(320, 240).data.map((_, i) => 12000 + 9000 * Math.floor((i % 320) / 80)) },
    4 * SIGMA_UNIT,
    5,
  );

  it('doubts a little grain in a picture that is the same all over, unless the network is sure', () => {
    expect(confidenceOf(withStatistics({ ...reading(4, 0.28), step }, asphalt).grain.doubt)).toBeLessThan(LIKELY);
    expect(withStatistics({ ...reading(4, 0.15), step }, asphalt).grain).toEqual({ value: 4, doubt: 0.15 });
  });

  it('takes the deviation of grain that plain parts share for what it is', () => {
    const { grain } = withStatistics({ ...reading(2, 1.2), step }, tones);
    expect(Math.abs(grain.value - 4)).toBeLessThan(0.5);
    expect(confidenceOf(grain.doubt)).toBeGreaterThan(LIKELY);
  });
});
