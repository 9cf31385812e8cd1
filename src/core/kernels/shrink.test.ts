import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { psnr } from '../metrics/metrics';
import { newPlane, SIGMA_UNIT } from '../picture/picture';
import { noisyPlane, texturedPlane } from '../testing/pictures';
import { estimateMotion, type MotionOptions } from './motion';
import { cosineTransform, shrinkReference } from './reference/shrink';
import { grainSpectrum } from './reference/windows';
import { addGrain } from './noise';
import { shrinkGrain, type ShrinkOptions } from './shrink';

const BLOCK: MotionOptions = { blockWidth: 16, blockHeight: 16, reachX: 7, reachY: 5, penalty: 6 };
const OPTIONS: ShrinkOptions = { sigma: 8, spectrum: grainSpectrum(0), step: 4, threshold: 2.2, trust: 10, keep: 0 };
const clean = texturedPlane(96, 64);
const shots = [0, 1, 2].map((n) => noisyPlane(texturedPlane(96, 64, 3 * (n - 1), n - 1), OPTIONS.sigma * SIGMA_UNIT, 50 + n));

const neighbours = [shots[0], shots[2]].map((plane) => ({
  plane,
  motion: estimateMotion({ plane: shots[1], first: 0, step: 1 }, { plane, first: 0, step: 1 }, undefined, BLOCK),
}));

describe('shrinkGrain', () => {
  for (const [name, used, keep, size] of [
    ['alone', [], 0, 0],
    ['with neighbours', neighbours, 0, 0.6],
    ['keeping a part', neighbours, 0.3, 0],
  ] as const) {
    it(`agrees with the reference ${name}`, () => {
      const result = shrinkGrain(shots[1], [...used], BLOCK, { ...OPTIONS, keep, spectrum: grainSpectrum(size) });
      const expected = shrinkReference({
        width: 96,
        height: 64,
        planes: [shots[1].data, ...used.map((n) => n.plane.data)],
        vectors: used.map((n) => n.motion.vectors),
        columns: used[0]?.motion.columns ?? 1,
        rows: used[0]?.motion.rows ?? 1,
        blockWidth: 16,
        blockHeight: 16,
        step: 4,
        sigma: OPTIONS.sigma * SIGMA_UNIT,
        spectrum: grainSpectrum(size),
        trust: OPTIONS.trust,
        threshold: OPTIONS.threshold,
        keep,
      });
      const furthest = result.data.reduce((most, v, i) => Math.max(most, Math.abs(v - expected[i])), 0);
      expect(furthest).toBeLessThanOrEqual(2);
    });
  }

  it('agrees with the reference where blocks have less of the noise, and takes less off there', () => {
    const levels = Float32Array.from({ length: 24 }, (_, i) => (i % 3 ? 1 : 0.2));
    const job = { width: 96, height: 64, columns: 6, rows: 4, blockWidth: 16, blockHeight: 16, step: 4, trust: 10, threshold: 2.2 };
    const expected = shrinkReference({
      ...job,
      planes: [shots[1].data, ...neighbours.map((n) => n.plane.data)],
      vectors: neighbours.map((n) => n.motion.vectors),
      sigma: OPTIONS.sigma * SIGMA_UNIT,
      spectrum: OPTIONS.spectrum,
      keep: 0,
      levels,
    });
    const result = shrinkGrain(shots[1], neighbours, BLOCK, { ...OPTIONS, levels });
    expect(result.data.reduce((most, v, i) => Math.max(most, Math.abs(v - expected[i])), 0)).toBeLessThanOrEqual(2);
  });

  it('takes most of the noise, more with neighbours, and keeps the picture', () => {
    const before = psnr(shots[1], clean),
      alone = psnr(shrinkGrain(shots[1], [], BLOCK, OPTIONS), clean),
      together = psnr(shrinkGrain(shots[1], neighbours, BLOCK, OPTIONS), clean);
    expect(alone - before).toBeGreaterThan(4);
    expect(together - alone).toBeGreaterThan(0.8);
  });

  it('takes grain that hangs together better when it knows its size', () => {
    const noise = newPlane(96, 64, 32768);
    addGrain(
      noise,
      { x: 0, y: 0, width: 96, height: 64 },
      { amplitudes: new Float32Array(256).fill(8), size: 0.8, seed: 3, frame: 0, channel: 0 },
    );
    const grainy = { ...clean, data: clean.data.map((v, i) => v + noise.data[i] - 32768) };
    const [white, known] = [0, 0.8].map((size) =>
      psnr(shrinkGrain(grainy, [], BLOCK, { ...OPTIONS, spectrum: grainSpectrum(size) }), clean),
    );
    expect(known - white).toBeGreaterThan(0.5);
  });

  it('leaves no ghost of what is in another frame only', () => {
    const flat = noisyPlane(newPlane(96, 64, 30000), 300, 1),
      other = noisyPlane(newPlane(96, 64, 30000), 300, 2);
    for (let y = 20; y < 40; y++) for (let x = 30; x < 50; x++) other.data[y * 96 + x] = 60000;
    const still = { columns: 6, rows: 4, vectors: new Int16Array(48) };
    const result = shrinkGrain(flat, [{ plane: other, motion: still }], BLOCK, { ...OPTIONS, sigma: 300 / SIGMA_UNIT });
    for (let y = 20; y < 40; y++) for (let x = 30; x < 50; x++) expect(Math.abs(result.data[y * 96 + x] - 30000)).toBeLessThan(900);
  });

  it('leaves all of it when asked to keep all', () => {
    expect(shrinkGrain(shots[1], [], BLOCK, { ...OPTIONS, keep: 1 }).data).toEqual(shots[1].data);
  });
});

describe('cosineTransform', () => {
  it('is undone by its inverse and keeps the energy', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -1000, max: 1000 }), { minLength: 64, maxLength: 64 }), (values) => {
        const block = Float64Array.from(values),
          there = cosineTransform(block),
          back = cosineTransform(there, true);
        back.forEach((v, i) => expect(v).toBeCloseTo(block[i], 6));
        const energy = (b: Float64Array): number => b.reduce((sum, v) => sum + v * v, 0);
        expect(energy(there)).toBeCloseTo(energy(block), 3);
      }),
      { numRuns: 30 },
    );
  });
});
