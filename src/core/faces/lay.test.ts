import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CHROMA_SHIFTS, picture, streamInfo } from '../testing/pictures';
import { copyPicture, wholeRegion } from '../picture/picture';
import type { Similarity } from './frame';
import { cubicAt, layBack, layStraight } from './lay';
import type { FramedFace } from './restore';

const SIDE = 48;
const plain = (v: number): FramedFace => ({
  side: SIDE,
  planes: [0, 1, 2].map((n) => new Float32Array(SIDE * SIDE).fill(n ? 0 : v)) as FramedFace['planes'],
});
const everywhere = new Float32Array(SIDE * SIDE).fill(1);
/** Where a frame may lie in a picture of 160 by 120. */
const places = fc
  .record({
    size: fc.double({ min: 0.5, max: 2, noNaN: true }),
    turn: fc.double({ min: -3, max: 3, noNaN: true }),
    x: fc.nat(100),
    y: fc.nat(80),
  })
  .map(({ size, turn, x, y }): Similarity => ({ a: size * Math.cos(turn), b: size * Math.sin(turn), x, y }));

describe('samples between samples', () => {
  it('are those of a slope, and of samples themselves', () => {
    const width = 9,
      height = 7;
    const data = Uint16Array.from({ length: width * height }, (_, i) => 1000 + 200 * (i % width) + 70 * Math.floor(i / width));
    fc.assert(
      fc.property(fc.double({ min: 1, max: 6, noNaN: true }), fc.double({ min: 1, max: 4, noNaN: true }), (x, y) => {
        expect(cubicAt(data, width, height, x, y)).toBeCloseTo(1000 + 200 * x + 70 * y, 6);
      }),
    );
    expect(cubicAt(data, width, height, 0, 0)).toBe(1000);
    expect(cubicAt(data, width, height, -9, 3)).toBe(data[3 * width]);
  });
});

describe.each(CHROMA_SHIFTS)('a face of a picture whose chroma is 2^%i and 2^%i times as coarse', (chromaShiftX, chromaShiftY) => {
  const info = streamInfo({ width: 160, height: 120, frames: 1, chromaShiftX, chromaShiftY });
  const whole = picture(info);

  it('laid straight as it stands is what is there', () => {
    const straight = layStraight(whole, { a: 1, b: 0, x: 40, y: 30 }, SIDE);
    for (const [x, y] of [
      [4, 5],
      [20, 33],
      [47, 47],
    ])
      expect(straight.planes[0][y * SIDE + x]).toBeCloseTo((whole.planes[0].data[(30 + y) * 160 + 40 + x] - 4096) / (219 * 256), 4);
    // Chroma lies round a half.
    for (const plane of straight.planes.slice(1)) for (const v of plane) expect(Math.abs(v - 0.5)).toBeLessThan(0.3);
  });

  it('is changed inside its frame by what is laid back, and nowhere else', () => {
    fc.assert(
      fc.property(places, (at) => {
        const made = copyPicture(whole, wholeRegion(info));
        layBack(made, plain(0.1), everywhere, at);
        const scale = Math.hypot(at.a, at.b);
        for (let y = 0; y < 120; y += 5)
          for (let x = 0; x < 160; x += 5) {
            const [px, py] = [x + 0.5 - at.x, y + 0.5 - at.y];
            const u = (at.a * px + at.b * py) / scale ** 2,
              v = (at.a * py - at.b * px) / scale ** 2;
            const by = made.planes[0].data[y * 160 + x] - whole.planes[0].data[y * 160 + x];
            const within = Math.min(u, v, SIDE - u, SIDE - v);
            if (within > 1) expect(Math.abs(by - 0.1 * 219 * 256)).toBeLessThanOrEqual(1);
            if (within < -0.01) expect(by).toBe(0);
          }
        made.planes.slice(1).forEach((plane, n) => expect(plane.data.every((v, i) => v === whole.planes[n + 1].data[i])).toBe(true));
      }),
      { numRuns: 25 },
    );
  });
});
