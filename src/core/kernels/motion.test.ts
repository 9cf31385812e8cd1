import { describe, expect, it } from 'vitest';
import { noisyPlane, texturedPlane } from '../testing/pictures';
import { newPlane, type Plane } from '../picture/picture';
import { estimateMotion, movedBlocks, type Lines, type MotionOptions } from './motion';
import { padBytes, referenceMotion } from './reference/motion';

const lines = (plane: Plane): Lines => ({ plane, first: 0, step: 1 });
const bytes = (p: Plane) => padBytes(p.width, p.height, (x, y) => p.data[y * p.width + x] >> 8);

describe('estimateMotion', () => {
  const sizes: MotionOptions[] = [
    { blockWidth: 16, blockHeight: 8, reachX: 7, reachY: 3, penalty: 4 },
    { blockWidth: 16, blockHeight: 16, reachX: 7, reachY: 5, penalty: 6 },
  ];
  for (const options of sizes) {
    it(`agrees with the reference in blocks of ${options.blockWidth} x ${options.blockHeight}`, () => {
      const current = noisyPlane(texturedPlane(143, 97), 500, 1),
        before = noisyPlane(texturedPlane(143, 97, 5, -3), 500, 2),
        after = noisyPlane(texturedPlane(143, 97, -5, 3), 500, 3);
      expect(estimateMotion(lines(current), lines(before), lines(after), options)).toEqual(
        referenceMotion(bytes(current), bytes(before), bytes(after), options),
      );
      expect(estimateMotion(lines(current), lines(before), undefined, options)).toEqual(
        referenceMotion(bytes(current), bytes(before), undefined, options),
      );
    });
  }

  it('finds a shift of the whole picture', () => {
    const [options] = sizes;
    // What is at x now was at x - 6, 2 rows higher, before.
    const field = estimateMotion(lines(texturedPlane(192, 128)), lines(texturedPlane(192, 128, 6, 2)), undefined, options);
    const right = [...field.vectors].filter((_, i) => i % 2 === 0).filter((v, i) => v === 6 && field.vectors[2 * i + 1] === 2).length;
    expect(right / (field.columns * field.rows)).toBeGreaterThan(0.85);
  });

  it('calls a still picture with noise still', () => {
    const plane = texturedPlane(160, 96);
    const field = estimateMotion(lines(noisyPlane(plane, 600, 4)), lines(noisyPlane(plane, 600, 5)), undefined, sizes[1]);
    expect([...field.vectors].filter((v) => v !== 0).length / field.vectors.length).toBeLessThan(0.05);
  });
});

describe('movedBlocks', () => {
  it('takes each block from where its vector points back to, its edge repeated, at any chroma size', () => {
    const plane = newPlane(20, 12);
    plane.data.forEach((_, i) => (plane.data[i] = i));
    const options = { blockWidth: 16, blockHeight: 16, reachX: 7, reachY: 5, penalty: 6 };
    const motion = { columns: 3, rows: 2, vectors: Int16Array.from([3, -5, -30, 2, 0, 0, 7, 31, -1, -1, 6, 0]) };
    const moved = movedBlocks(plane, motion, options, 1, 1);
    moved.data.forEach((v, i) => {
      const x = i % 20,
        y = Math.floor(i / 20);
      const at = 2 * ((y >> 3) * 3 + (x >> 3));
      const [dx, dy] = [motion.vectors[at], motion.vectors[at + 1]].map((d) => Math.round(d / 2));
      expect(v).toBe(Math.min(11, Math.max(0, y - dy)) * 20 + Math.min(19, Math.max(0, x - dx)));
    });
  });
});
