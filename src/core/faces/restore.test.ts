import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { copyPicture, wholeRegion } from '../picture/picture';
import { normalStream } from '../picture/random';
import { picture, streamInfo } from '../testing/pictures';
import { type Similarity } from './frame';
import { guarded } from './guard';
import { layBack, layStraight } from './lay';
import { convexHull, ovalMask } from './oval';
import { faceCorrection, type FramedFace } from './restore';
import { smoothed, smoothedBroadly } from './smoothed';

const SIDE = 96;

/** A face as a child draws it, soft, with noise. */
function drawn(noise: number, seed = 3): FramedFace {
  const normal = normalStream(seed);
  const level = (x: number, y: number): number => {
    const face = Math.hypot((x - 0.5) / 0.34, (y - 0.53) / 0.42) < 1 ? 0.7 : 0.3;
    const eye = [0.345, 0.655].some((u) => Math.hypot((x - u) / 0.06, (y - 0.41) / 0.03) < 1) ? -0.5 : 0;
    const mouth = Math.hypot((x - 0.5) / 0.12, (y - 0.745) / 0.03) < 1 ? -0.3 : 0;
    return face + eye + mouth;
  };
  const plane = (of: (i: number) => number): Float32Array => Float32Array.from({ length: SIDE * SIDE }, (_, i) => of(i));
  const sharp = plane((i) => level(((i % SIDE) + 0.5) / SIDE, (Math.floor(i / SIDE) + 0.5) / SIDE));
  const soft = smoothed(sharp, SIDE, 1.2).map((v) => v + noise * normal());
  return { side: SIDE, planes: [soft, plane(() => 0.48), plane(() => 0.56)] };
}

describe('means over squares', () => {
  it('stand for a wide Gaussian', () => {
    const { planes } = drawn(0.05);
    for (const sigma of [3.5, 6, 11]) {
      const exact = smoothed(planes[0], SIDE, sigma);
      const broad = smoothedBroadly(planes[0], SIDE, sigma);
      // How borders count differs a little.
      const from = Math.ceil(2 * sigma);
      let most = 0;
      for (let y = from; y < SIDE - from; y++)
        for (let x = from; x < SIDE - from; x++) most = Math.max(most, Math.abs(broad[y * SIDE + x] - exact[y * SIDE + x]));
      expect(most).toBeLessThan(0.02);
    }
  });
});

describe('a correction', () => {
  it('reduced to the pixels of the source stays within their noise', async () => {
    for (const bound of [2 / 255, 6 / 255]) {
      const { planes } = await faceCorrection(drawn(0.03), { ratio: 2, bound, onlySupported: false, grain: 0, noise: 8, coding: 0 });
      const reduced = smoothed(planes[0], SIDE, 1.1);
      expect(Math.max(...reduced.map(Math.abs))).toBeLessThan(1.15 * bound);
    }
  });

  it('adds nothing finer than the source where only evidence is wanted', async () => {
    const work = { ratio: 4, bound: 0.02, onlySupported: true, grain: 0, noise: 8, coding: 0 };
    const { planes } = await faceCorrection(drawn(0.03), work);
    const coarse = smoothed(planes[0], SIDE, 1.5);
    const energy = (of: (i: number) => number): number => planes[0].reduce((sum, _, i) => sum + of(i) ** 2, 0);
    expect(energy((i) => planes[0][i] - coarse[i])).toBeLessThan(0.1 * energy((i) => planes[0][i]));
  });
});

describe('a correction by other pictures', () => {
  it('comes nearer to what they show than the face alone does, within what the source can say', async () => {
    const sharp = drawn(0),
      face = { ...sharp, planes: [smoothed(sharp.planes[0], SIDE, 2), ...sharp.planes.slice(1)] as FramedFace['planes'] };
    const work = { ratio: 2, bound: 8 / 255, onlySupported: false, grain: 0, noise: 4, coding: 0 };
    const off = ({ planes }: FramedFace): number =>
      planes[0].reduce((sum, v, i) => sum + (face.planes[0][i] + v - sharp.planes[0][i]) ** 2, 0);
    const alone = await faceCorrection(face, work),
      by = await faceCorrection(face, work, [sharp.planes[0]]),
      byTwo = await faceCorrection(face, work, [sharp.planes[0], sharp.planes[0]]);
    expect(off(by)).toBeLessThan(off(alone));
    byTwo.planes[0].forEach((v, i) => expect(v).toBeCloseTo(by.planes[0][i], 5));
    const reduced = smoothed(by.planes[0], SIDE, 1.1);
    expect(Math.max(...reduced.map(Math.abs))).toBeLessThan(1.15 * work.bound);
  });

  it('of a small face adds only what they say to what its own pixels say', async () => {
    const face = drawn(0.01);
    const work = { ratio: 4, bound: 0.02, onlySupported: true, grain: 0, noise: 4, coding: 0 };
    const { planes } = await faceCorrection(face, work, [face.planes[0]]);
    expect(Math.max(...planes[0].map(Math.abs))).toBeLessThan(0.15);
  });
});

describe('grain', () => {
  it('runs over a face as it does round it', async () => {
    const face = drawn(0.03);
    const work = { ratio: 1, bound: 0.06, onlySupported: false, noise: 8, coding: 0 };
    const fine = (grain: Float32Array): number => {
      const coarse = smoothed(grain, SIDE, 1);
      // The forehead, where the drawing is flat.
      let sum = 0;
      for (let y = 16; y < 28; y++) for (let x = 34; x < 62; x++) sum += (grain[y * SIDE + x] - coarse[y * SIDE + x]) ** 2;
      return Math.sqrt(sum / (12 * 28));
    };
    const result = async (grain: number): Promise<Float32Array> => {
      const { planes } = await faceCorrection(face, { ...work, grain });
      return face.planes[0].map((v, i) => v + planes[0][i]);
    };
    const before = fine(face.planes[0]);
    expect(fine(await result(0))).toBeLessThan(0.75 * before);
    expect(fine(await result(1))).toBeGreaterThan(0.9 * before);
  });
});

describe('a face laid straight', () => {
  const info = streamInfo({ width: 160, height: 120, frames: 1 });

  it('is what the picture has there, and comes back to where it was', () => {
    const source = picture(info);
    const same: Similarity = { a: 1, b: 0, x: 20, y: 16 };
    const face = layStraight(source, same, 64);
    for (let i = 0; i < 64; i += 5)
      expect(face.planes[0][i * 64 + i]).toBeCloseTo((source.planes[0].data[(16 + i) * 160 + 20 + i] - 4096) / (219 * 256), 4);
    const result = copyPicture(source, wholeRegion(info));
    const lighter: FramedFace = {
      side: 64,
      planes: [new Float32Array(64 * 64).fill(0.1), ...[0, 1].map(() => new Float32Array(64 * 64))] as never,
    };
    layBack(result, lighter, new Float32Array(64 * 64).fill(1), same);
    expect(result.planes[0].data[40 * 160 + 50] - source.planes[0].data[40 * 160 + 50]).toBeCloseTo(0.1 * 219 * 256, -1);
    expect(result.planes[0].data[5 * 160 + 5]).toBe(source.planes[0].data[5 * 160 + 5]);
    expect(result.planes[1].data).toEqual(source.planes[1].data);
  });

  it('turned and scaled gives levels that lie between those round it', () => {
    fc.assert(
      fc.property(fc.double({ min: -3, max: 3, noNaN: true }), fc.double({ min: 0.4, max: 3, noNaN: true }), (angle, scale) => {
        const flat = picture(info);
        flat.planes.forEach((plane) => plane.data.fill(30_000));
        const at = { a: scale * Math.cos(angle), b: scale * Math.sin(angle), x: 60, y: 50 };
        const [luma] = layStraight(flat, at, 48).planes;
        for (const v of luma) expect(v).toBeCloseTo((30_000 - 4096) / (219 * 256), 5);
      }),
      { numRuns: 10 },
    );
  });
});

describe('an oval', () => {
  const square = Float32Array.of(0.2, 0.2, 0.8, 0.2, 0.8, 0.8, 0.2, 0.8, 0.5, 0.5, 0.4, 0.3);
  it('goes round the outermost points', () => {
    const hull = convexHull(square);
    expect(hull).toHaveLength(4);
    for (const { x, y } of hull) expect([Math.abs(x - 0.5), Math.abs(y - 0.5)].map((v) => Number(v.toFixed(3)))).toEqual([0.3, 0.3]);
  });

  it('is whole within and nothing without', () => {
    const mask = ovalMask(square, 50, 0.1);
    expect(mask[25 * 50 + 25]).toBe(1);
    expect(mask[5 * 50 + 25]).toBe(0);
    const edge = mask[25 * 50 + 12];
    expect(edge).toBeGreaterThan(0);
    expect(edge).toBeLessThan(1);
  });
});

describe('the guard', () => {
  const all = new Float32Array(SIDE * SIDE).fill(1);
  it('leaves a small correction and holds back one that makes another picture of it', async () => {
    const face = drawn(0);
    const none: FramedFace = { side: SIDE, planes: [0, 1, 2].map(() => new Float32Array(SIDE * SIDE)) as never };
    expect(await guarded(face, none, all, { wanted: 0.8 })).toEqual({ left: 0.8, moved: expect.closeTo(0, 6) as number });
    const turned: FramedFace = {
      side: SIDE,
      planes: face.planes.map((plane) => plane.map((v, i) => plane[plane.length - 1 - i] - v)) as never,
    };
    const { left, moved } = await guarded(face, turned, all, { wanted: 1 });
    expect(left).toBeLessThan(1);
    expect(moved).toBeLessThanOrEqual(0.1);
  });
});
