import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { transform, transformBack } from './fourier';
import { normalStream } from './picture/random';

const sizes = fc.tuple(fc.constantFrom(1, 2, 8, 16), fc.constantFrom(1, 4, 8, 32));

function drawn(length: number, seed: number): Float64Array {
  const normal = normalStream(seed);
  return Float64Array.from({ length }, normal);
}
const energy = (real: Float64Array, imaginary: Float64Array): number => real.reduce((sum, v, i) => sum + v * v + imaginary[i] ** 2, 0);

describe('the Fourier transform', () => {
  it('comes back', () => {
    fc.assert(
      fc.property(sizes, fc.nat(), ([width, height], seed) => {
        const real = drawn(width * height, seed),
          imaginary = drawn(width * height, seed + 1);
        const [r, m] = [real.slice(), imaginary.slice()];
        transform(r, m, width, height);
        transformBack(r, m, width, height);
        real.forEach((v, i) => expect(r[i]).toBeCloseTo(v, 9));
        imaginary.forEach((v, i) => expect(m[i]).toBeCloseTo(v, 9));
      }),
    );
  });

  it('keeps the energy (Parseval)', () => {
    fc.assert(
      fc.property(sizes, fc.nat(), ([width, height], seed) => {
        const real = drawn(width * height, seed),
          imaginary = drawn(width * height, seed + 1);
        const before = energy(real, imaginary);
        transform(real, imaginary, width, height);
        expect(energy(real, imaginary) / (width * height)).toBeCloseTo(before, 6);
      }),
    );
  });

  it('is that of its definition', () => {
    const width = 8,
      height = 4;
    const real = drawn(width * height, 3),
      imaginary = new Float64Array(width * height);
    const [r, m] = [real.slice(), imaginary.slice()];
    transform(r, m, width, height);
    for (const [u, v] of [
      [0, 0],
      [1, 0],
      [3, 2],
      [7, 3],
    ]) {
      let re = 0,
        im = 0;
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const angle = -2 * Math.PI * ((u * x) / width + (v * y) / height);
          re += real[y * width + x] * Math.cos(angle);
          im += real[y * width + x] * Math.sin(angle);
        }
      expect(r[v * width + u]).toBeCloseTo(re, 9);
      expect(m[v * width + u]).toBeCloseTo(im, 9);
    }
  });

  it('takes powers of two', () => {
    expect(() => transform(new Float64Array(12), new Float64Array(12), 12, 1)).toThrow(RangeError);
  });
});
