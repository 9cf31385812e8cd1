import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { FrameIndex } from './frameIndex';
import { cutIndex, partKey, partName } from './part';

/** An index of so many frames at 25 a second, a key frame every 12; of a film with pauses each coded frame is shown twice. */
function indexOf(frames: number, paused = false): FrameIndex {
  const coded = paused ? Math.ceil(frames / 2) : frames;
  const apart = paused ? 0.08 : 0.04;
  return {
    ...{ frames, rate: { num: 25, den: 1 }, firstTime: 3, damage: [] },
    times: Float64Array.from({ length: coded }, (_, n) => 3 + apart * n),
    ...(paused && { map: Int32Array.from({ length: frames }, (_, n) => n >> 1) }),
    keys: Float64Array.from({ length: Math.ceil(coded / 12) }, (_, n) => 3 + 12 * apart * n),
  };
}
/** When the coded frame begins that is shown at a frame. */
const shownAt = ({ times, map }: FrameIndex, n: number): number => times[map ? map[n] : n];

describe('a stretch of a film', () => {
  it('shows the same frames as the film does there', () => {
    fc.assert(
      fc.property(fc.nat(79), fc.nat(79), fc.boolean(), (a, b, paused) => {
        const [first, last] = [Math.min(a, b), Math.max(a, b)];
        const whole = indexOf(80, paused);
        const part = cutIndex(whole, first, last);
        expect(part.frames).toBe(last - first + 1);
        for (let n = 0; n < part.frames; n++) expect(shownAt(part, n)).toBe(shownAt(whole, first + n));
        expect(part.firstTime).toBeCloseTo(3 + 0.04 * first, 9);
        // A decoder finds a place to begin at or before its first frame.
        expect([...part.keys].some((key) => key <= shownAt(part, 0) + 1e-9)).toBe(true);
      }),
    );
  });

  it('of a stretch is a stretch of the film', () => {
    const whole = indexOf(80, true);
    const twice = cutIndex(cutIndex(whole, 11, 60), 5, 20),
      once = cutIndex(whole, 16, 31);
    expect([...twice.times]).toEqual([...once.times]);
    expect([...(twice.map ?? [])]).toEqual([...(once.map ?? [])]);
    expect(twice.firstTime).toBeCloseTo(once.firstTime, 9);
  });
});

describe('a part of a file', () => {
  it('is named by what it is, counted from one as people do', () => {
    expect(partName({})).toBe('');
    expect(partName({ page: 0 })).toBe('page 1');
    expect(partName({ stream: 1, frames: { first: 0, last: 99 } })).toBe('picture 2, frames 0 to 99');
    expect(partName({ print: { number: 2, corners: '' } })).toBe('print 3');
    expect(partKey(undefined)).toBe('');
  });
});
