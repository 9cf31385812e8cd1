import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutPicture, NEUTRAL_CHROMA, wholeRegion, type Picture, type Plane } from '../picture/picture';
import { picture, streamInfo } from '../testing/pictures';
import { planOf, runOver, type Step } from '../testing/plans';
import { outputStream } from '../graph/layout';

const clip = streamInfo({ width: 160, height: 120, frames: 12 });
const whole = async (...steps: Step[]): Promise<Picture> => {
  const run = runOver(clip, (n) => picture(clip, n), ...steps);
  return run.frame(0, wholeRegion(run.stream));
};

describe('Crop', () => {
  it('takes whole chroma samples off, and whole pairs of lines while there are fields', () => {
    const size = (fieldOrder: 'progressive' | 'top-first', settings: object): [number, number] => {
      const out = outputStream(planOf(['crop', { ...settings }]), { ...clip, fieldOrder });
      return [out.width, out.height];
    };
    expect(size('progressive', { left: 5, top: 3 })).toEqual([156, 118]);
    expect(size('top-first', { left: 5, top: 7 })).toEqual([156, 116]);
  });

  it('leaves every sample that stays as it was', async () => {
    const made = await whole(['crop', { left: 10, right: 20, top: 6, bottom: 4 }]);
    const kept = cutPicture(picture(clip), { x: 10, y: 6, width: 130, height: 110 });
    expect(made.planes).toEqual(kept.planes);
  });
});

describe('Trim', () => {
  it('keeps the frames between its ends, and shows them in order', async () => {
    const run = runOver(clip, (n) => picture(clip, n), ['trim', { first: 3, last: 8 }]);
    expect(run.stream.frames).toBe(6);
    for (const n of [0, 5]) expect((await run.frame(n, wholeRegion(clip))).planes).toEqual(picture(clip, n + 3).planes);
  });

  it('keeps all to the end without a last frame, and nothing is an error', () => {
    const frames = (settings: object): number => outputStream(planOf(['trim', { ...settings }]), clip).frames;
    expect(frames({ first: 4 })).toBe(8);
    expect(frames({ first: 4, last: 900 })).toBe(8);
    expect(() => frames({ first: 9, last: 4 })).toThrow(/keeps nothing: first frame 9 comes after the last, 4/);
  });
});

describe('Fit to frame', () => {
  const fitted = (mode: string, width: number, height: number): Promise<Picture> => whole(['fit', { mode, width, height }]);
  /** Whether a column or row of a plane holds one value. */
  const flat = ({ width, data }: Plane, column: number): boolean => data.every((v, i) => i % width !== column || v === data[column]);

  it('puts black bars beside a picture that is narrower, and above one that is wider', async () => {
    const beside = await fitted('bars', 240, 120);
    expect([beside.info.width, beside.info.height]).toEqual([240, 120]);
    const [luma, cb] = beside.planes;
    expect(luma.data[0]).toBe(16 << 8);
    expect(cb.data[0]).toBe(NEUTRAL_CHROMA);
    for (const column of [0, 39, 200, 239]) expect(flat(luma, column)).toBe(true);
    for (const column of [41, 120, 198]) expect(flat(luma, column)).toBe(false);
    // The picture has its size already: its samples are untouched.
    expect(cutPicture(beside, { x: 40, y: 0, width: 160, height: 120 }).planes).toEqual(picture(clip).planes);
    const above = await fitted('bars', 160, 200);
    expect([...above.planes[0].data.subarray(0, 160 * 40)].every((v) => v === 16 << 8)).toBe(true);
  });

  it('cuts what sticks out when it fills', async () => {
    const filled = await fitted('fill', 120, 120);
    expect([filled.info.width, filled.info.height]).toEqual([120, 120]);
    expect(filled.planes).toEqual(cutPicture(picture(clip), { x: 20, y: 0, width: 120, height: 120 }).planes);
  });

  it('always gives the frame that was asked for', () => {
    const even = fc.integer({ min: 8, max: 900 }).map((n) => 2 * n);
    fc.assert(
      fc.property(even, even, fc.constantFrom('bars', 'fill'), (width, height, mode) => {
        const out = outputStream(planOf(['fit', { mode, width, height }]), clip);
        expect([out.width, out.height, out.pixelAspect]).toEqual([width, height, { num: 1, den: 1 }]);
      }),
    );
  });

  it('does nothing when told to leave, and refuses fields', async () => {
    expect((await fitted('leave', 240, 120)).planes).toEqual(picture(clip).planes);
    expect(() => outputStream(planOf(['fit']), { ...clip, fieldOrder: 'top-first' })).toThrow(/put Deinterlace before it/);
  });
});
