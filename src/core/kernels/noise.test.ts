import { describe, expect, it } from 'vitest';
import { cutPlane, newPlane } from '../picture/picture';
import { addGrain, type NoiseOptions } from './noise';
import { noiseSeed, whiteNoiseAt } from './reference/noise';

const options = (part: Partial<NoiseOptions> = {}): NoiseOptions => ({
  amplitudes: new Float32Array(256).fill(5),
  size: 0,
  seed: 1,
  frame: 3,
  channel: 0,
  ...part,
});
const region = { x: 0, y: 0, width: 96, height: 64 };

function grain(part: Partial<NoiseOptions> = {}): number[] {
  const plane = newPlane(96, 64, 32768);
  addGrain(plane, region, options(part));
  return [...plane.data].map((v) => (v - 32768) / 256);
}

const deviation = (values: number[]): number => {
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length);
};

describe('addGrain', () => {
  it('agrees with the reference sample by sample', () => {
    const seed = noiseSeed(1, 3, 0);
    grain().forEach((v, i) => expect(v).toBeCloseTo(5 * whiteNoiseAt(i % 96, Math.floor(i / 96), seed), 1));
  });

  it('has the deviation it was asked for, whatever the size of the grain', () => {
    for (const size of [0, 0.6, 1.2]) expect(deviation(grain({ size }))).toBeCloseTo(5, 0);
  });

  it('is the same for the same seed and frame, and another for others', () => {
    expect(grain()).toEqual(grain());
    for (const other of [{ seed: 2 }, { frame: 4 }, { channel: 1 }]) expect(grain(other)).not.toEqual(grain());
  });

  it('gives a part what the whole has there', () => {
    const all = newPlane(96, 64, 32768);
    addGrain(all, region, options({ size: 1 }));
    const part = newPlane(30, 20, 32768);
    addGrain(part, { x: 40, y: 10, width: 30, height: 20 }, options({ size: 1 }));
    expect(part.data).toEqual(cutPlane(all, 40, 10, 30, 20).data);
  });

  it('follows the amplitude of each level', () => {
    const plane = newPlane(64, 64, 5000);
    plane.data.fill(50000, 2048);
    addGrain(
      plane,
      { ...region, width: 64 },
      options({ amplitudes: Float32Array.from({ length: 256 }, (_, level) => (level < 128 ? 8 : 0)) }),
    );
    expect(plane.data.subarray(2048).every((v) => v === 50000)).toBe(true);
    expect(deviation([...plane.data.subarray(0, 2048)]) / 256).toBeCloseTo(8, 0);
  });
});
