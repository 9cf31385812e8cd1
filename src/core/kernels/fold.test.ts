import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newPlane, type Plane } from '../picture/picture';
import { randomPlane } from '../testing/pictures';
import { addFolded, addLines, addPlain, addUnfolded, fold, foldLines, SCALE, take } from './fold';

const held = (v: number, size: number): number => Math.min(size - 1, Math.max(0, v));
const sample = ({ data, width, height }: Plane, x: number, y: number): number => data[held(y, height) * width + held(x, width)];
const close = (a: Float32Array, b: number[]): void => {
  expect(a.length).toBe(b.length);
  expect(a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i])), 0)).toBeLessThan(1e-6);
};

const places = fc.record({ x: fc.integer({ min: 0, max: 20 }), y: fc.integer({ min: 0, max: 12 }), seed: fc.nat(1000) });

describe('fold', () => {
  it('takes every other sample of any part, edges repeated, on any chroma raster', () => {
    fc.assert(
      fc.property(places, fc.integer({ min: 0, max: 2 }), fc.integer({ min: 0, max: 1 }), ({ x, y, seed }, sx, sy) => {
        const plane = randomPlane(19, 11, seed);
        // The plane begins somewhere in the frame; the part reaches beyond it.
        const origin = { x: 2, y: 1 },
          part = { x: 4 * (x >> 1), y: 2 * (y >> 1), width: 40, height: 16 };
        const out = new Float32Array(40 * 16);
        fold(plane, origin, part, out, 0, { x: sx, y: sy });
        const expected = Array.from({ length: 640 }, (_, i) => {
          const n = Math.floor(i / 160),
            px = part.x + 2 * (i % 20) + (n & 1),
            py = part.y + 2 * Math.floor((i % 160) / 20) + (n >> 1);
          return sample(plane, (px >> sx) - origin.x, (py >> sy) - origin.y) * SCALE;
        });
        close(out, expected);
      }),
    );
  });

  it('and adding a difference back is exact, on any chroma raster, in the cell alone', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 2 }), fc.integer({ min: 0, max: 1 }), fc.nat(1000), (sx, sy, seed) => {
        const part = { x: 8, y: 8, width: 48, height: 24 },
          cell = { x: 16, y: 8, width: 28, height: 16 };
        const plane = randomPlane(64 >> sx, 32 >> sy, seed);
        const coarser = { x: sx, y: sy };
        const folded = new Float32Array(48 * 24);
        fold(plane, { x: 0, y: 0 }, part, folded, 0, coarser);
        const into = newPlane(40 >> sx, 24 >> sy),
          origin = { x: 16 >> sx, y: 8 >> sy };
        addFolded(folded, 0, { part, cell, into, origin }, 1, coarser);
        for (let y = 0; y < into.height; y++)
          for (let x = 0; x < into.width; x++)
            expect(sample(into, x, y)).toBe(x < 28 >> sx && y < 16 >> sy ? sample(plane, x + origin.x, y + origin.y) : 0);
      }),
    );
  });

  it('holds what is added in the range of codes', () => {
    const plane = newPlane(8, 8, 65000);
    const part = { x: 0, y: 0, width: 8, height: 8 };
    addFolded(new Float32Array(64).fill(0.2), 0, { part, cell: part, into: plane, origin: part }, 1);
    expect(plane.data.every((v) => v === 65535)).toBe(true);
    addFolded(new Float32Array(64).fill(-2), 0, { part, cell: part, into: plane, origin: part }, 1);
    expect(plane.data.every((v) => v === 0)).toBe(true);
  });
});

describe('foldLines', () => {
  it('takes the lines of one parity, and adding to them leaves the others alone', () => {
    fc.assert(
      fc.property(places, fc.constantFrom<0 | 1>(0, 1), fc.boolean(), ({ x, y, seed }, parity, upsideDown) => {
        const plane = randomPlane(30, 20, seed);
        const part = { x: 2 * (x >> 2), y: 2 * (y >> 2), width: 32, height: 16 };
        const out = new Float32Array(32 * 8);
        foldLines(plane, parity, part, upsideDown, out, 0);
        const expected = Array.from({ length: 256 }, (_, i) => {
          const line = Math.floor((i % 128) / 16),
            py = part.y + 2 * (upsideDown ? 7 - line : line) + parity;
          return plane.data[Math.min(18 + parity, py) * 30 + held(part.x + 2 * (i % 16) + (i >> 7), 30)] * SCALE;
        });
        close(out, expected);
        const cell = { x: part.x + 2, y: part.y, width: 12, height: 8 };
        const into = newPlane(12, 8);
        addLines(out, parity, { part, cell, into, origin: cell }, upsideDown);
        for (let j = 0; j < 8; j++)
          for (let i = 0; i < 12; i++)
            expect(sample(into, i, j)).toBe((j & 1) === parity ? plane.data[(cell.y + j) * 30 + held(cell.x + i, 30)] : 0);
      }),
    );
  });
});

describe('take', () => {
  it('takes a part as it is, edges repeated, and adding it is exact', () => {
    fc.assert(
      fc.property(places, ({ x, y, seed }) => {
        const plane = randomPlane(21, 13, seed);
        const part = { x: x - 6, y: y - 6, width: 19, height: 9 };
        const out = new Float32Array(19 * 9);
        take(plane, part, out, 0);
        close(
          out,
          Array.from({ length: 171 }, (_, i) => sample(plane, part.x + (i % 19), part.y + Math.floor(i / 19)) * SCALE),
        );
        const cell = { x: part.x + 3, y: part.y + 2, width: 9, height: 5 };
        const into = newPlane(9, 5);
        addPlain(out, 0, { part, cell, into, origin: cell }, 1);
        expect([...into.data]).toEqual(Array.from({ length: 45 }, (_, i) => sample(plane, cell.x + (i % 9), cell.y + Math.floor(i / 9))));
      }),
    );
  });
});

describe('addUnfolded', () => {
  it.each([4, 8])('puts every plane of %i x %i in its place', (folds) => {
    const size = { width: 5, height: 3 },
      wide = size.width * folds;
    // Each correction says where it belongs.
    const corrections = Float32Array.from({ length: wide * size.height * folds }, (_, i) => {
      const plane = Math.floor(i / 15),
        at = i % 15;
      return (Math.floor(at / 5) * folds + Math.floor(plane / folds)) * wide + (at % 5) * folds + (plane % folds);
    });
    const into = new Float32Array(30 * 12).fill(1000);
    const part = { x: 4, y: 2, width: 11, height: 7 },
      first = { x: 3, y: 2 };
    addUnfolded({ planes: corrections, folds, size }, first, 2, { data: into, stride: 30, part });
    into.forEach((v, i) => {
      const x = (i % 30) - part.x,
        y = Math.floor(i / 30) - part.y;
      const inside = x >= 0 && y >= 0 && x < part.width && y < part.height;
      expect(v).toBe(1000 + (inside ? 2 * ((y + first.y) * wide + x + first.x) : 0));
    });
  });
});
