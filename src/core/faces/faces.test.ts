import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { halfFloat } from '../vision/packageWeights';
import { copied, part, turned, viewOf } from '../vision/view';
import { describer, descriptorDistance } from './descriptors';
import { fitted, FRAME, invert, moved, type Similarity, within } from './frame';
import { landmarksOf } from './mesh';
import { poseOf } from './find';
import { sampledRgb } from './sampled';

const similarity = fc.record({
  a: fc.double({ min: 0.2, max: 30, noNaN: true }),
  b: fc.double({ min: -20, max: 20, noNaN: true }),
  x: fc.double({ min: -300, max: 300, noNaN: true }),
  y: fc.double({ min: -300, max: 300, noNaN: true }),
});
const at = (s: Similarity, u: number, v: number): [number, number] => {
  const out = new Float64Array(2);
  moved(s, u, v, out, 0);
  return [out[0], out[1]];
};

describe('the frame of a face', () => {
  it('is found again, however a face is turned, scaled and moved', () => {
    fc.assert(
      fc.property(similarity, (placed) => {
        const landmarks = new Float64Array(10);
        for (let n = 0; n < 10; n += 2) landmarks.set(at(placed, FRAME[n] * 128, FRAME[n + 1] * 128), n);
        const back = fitted(landmarks, 128);
        for (let n = 0; n < 10; n += 2) {
          const [u, v] = at(back, landmarks[n], landmarks[n + 1]);
          expect(u).toBeCloseTo(FRAME[n] * 128, 4);
          expect(v).toBeCloseTo(FRAME[n + 1] * 128, 4);
        }
      }),
    );
  });

  it('is left and come back to', () => {
    fc.assert(
      fc.property(similarity, fc.integer({ min: 0, max: 99 }), fc.integer({ min: 0, max: 99 }), (placed, u, v) => {
        const [x, y] = at(within(invert(placed), placed), u, v);
        expect(x).toBeCloseTo(u, 5);
        expect(y).toBeCloseTo(v, 5);
      }),
    );
  });
});

describe('a pose', () => {
  /** A mesh whose landmarks lie where the frame has them, its nose moved aside. */
  function mesh(aside: number, angle: number): Float32Array {
    const out = new Float32Array(936);
    const turned: Similarity = { a: 100 * Math.cos(angle), b: 100 * Math.sin(angle), x: 0, y: 0 };
    [[33, 133, 159, 145], [362, 263, 386, 374], [1], [61], [291]].forEach((points, n) => {
      for (const p of points) moved(turned, FRAME[2 * n] + (n === 2 ? aside : 0), FRAME[2 * n + 1], out, 2 * p);
    });
    return out;
  }

  it('is told from eyes and nose', () => {
    expect(poseOf(mesh(0, 0))).toEqual({ yaw: 0, roll: 0 });
    expect(poseOf(mesh(0, 0.35))).toEqual({ yaw: 0, roll: 20 });
    expect(poseOf(mesh(0.09, 0)).yaw).toBeGreaterThan(20);
    expect(poseOf(mesh(-0.09, -0.5)).yaw).toBeLessThan(-20);
    expect([...landmarksOf(mesh(0, 0))].map((v) => Math.round(v) / 100)).toEqual([...FRAME].map((v) => Math.round(100 * v) / 100));
  });
});

describe('a picture turned by quarters', () => {
  const picture = { data: Uint8Array.from({ length: 18 }, (_, i) => i), width: 3, height: 2 };
  it('four times is what it was, and once has its lower left at its upper left', () => {
    const by = (quarters: number): typeof picture => copied(turned(viewOf(picture), quarters)) as typeof picture;
    const again = (from: typeof picture): typeof picture => copied(turned(viewOf(from), 1)) as typeof picture;
    expect(again(again(again(again(picture))))).toEqual(picture);
    expect([by(1).width, by(1).height, by(1).data[0]]).toEqual([2, 3, 9]);
    expect(by(2)).toEqual(again(by(1)));
    expect(by(3)).toEqual(again(by(2)));
    expect(by(4)).toEqual(picture);
  });

  it('has parts that are those of the turned picture', () => {
    // Of the columns 1 and 2 of the upper row, turned: a column, the left one above.
    expect(copied(turned(part(viewOf(picture), 1, 0, 2, 1), 1))).toEqual({
      data: Uint8Array.from([3, 4, 5, 6, 7, 8]),
      width: 1,
      height: 2,
    });
    expect(copied(part(turned(viewOf(picture), 1), 1, 0, 1, 2))).toEqual({
      data: Uint8Array.from([0, 1, 2, 3, 4, 5]),
      width: 1,
      height: 2,
    });
  });

  it('is sampled where a similarity says', () => {
    const slope = { data: Uint8Array.from({ length: 3 * 400 }, (_, i) => 10 * (Math.floor(i / 3) % 20)), width: 20, height: 20 };
    const cut = sampledRgb(slope, { a: 1, b: 0, x: 4.5, y: 3 }, 8);
    for (let x = 0; x < 8; x++) expect(cut[3 * x]).toBeCloseTo(10 * (x + 4.5), 3);
  });
});

describe('descriptors', () => {
  it('are what the packages themselves give', async () => {
    // Answers of both packages' own runtimes to this pattern, laid into their inputs as it is.
    const [residual, separable] = [await describer('residual'), await describer('separable')];
    const pattern = (side: number) =>
      Float32Array.from({ length: 3 * side * side }, (_, i) => (Math.sin(i * 0.001) + 1) * 100 + (i % 7) * 5);
    const expected = [-0.056224, 0.130094, 0.041434, -0.023834, -0.030208, -0.056102, -0.088504, -0.047181].map((v) => v / 1.32322);
    (await residual.raw(pattern(150))).slice(0, 8).forEach((v, i) => expect(v).toBeCloseTo(expected[i], 4));
    const made = await separable.raw(pattern(224));
    expect(made).toHaveLength(1024);
    expect([...made.slice(0, 7)]).toEqual([0, 0, 0, 0, 0, 0, 0]);
    expect(made[7]).toBeGreaterThan(0);
  });

  it('are near for one picture in two places, far for another', async () => {
    const draw = (seed: number, shift: number) => ({
      data: Uint8Array.from({ length: 3 * 160 * 160 }, (_, i) => {
        const x = (Math.floor(i / 3) % 160) - shift,
          y = Math.floor(i / 480);
        return 128 + 60 * Math.sin((x * (1 + seed)) / 9) + 50 * Math.cos((y * (3 - seed)) / 13);
      }),
      ...{ width: 160, height: 160 },
    });
    const { at: describe } = await describer('separable');
    const frame = (x: number): Similarity => ({ a: 80, b: 0, x: 30 + x, y: 40 });
    const [one, same, other] = [
      await describe(draw(0, 0), frame(0)),
      await describe(draw(0, 20), frame(20)),
      await describe(draw(1, 0), frame(0)),
    ];
    expect(descriptorDistance(one, same)).toBeLessThan(0.01);
    expect(descriptorDistance(one, other)).toBeGreaterThan(0.05);
  });

  it('read halves as IEEE 754 has them', () => {
    expect([0x3c00, 0xc000, 0x7bff, 0x0001, 0x8000, 0x7c00].map(halfFloat)).toEqual([1, -2, 65504, 2 ** -24, -0, Infinity]);
  });
});
