import { describe, expect, it } from 'vitest';
import { normalStream, randomStream } from '../picture/random';
import { toneAt, toneOf } from './tone';

const SIZE = 4000;

/** A print in sepia that is stronger the darker it is, with some noise; the first half is veiled. */
function sepia(noise: number): { raster: Parameters<typeof toneOf>[0]; clear: Uint8Array } {
  const random = randomStream(1),
    normal = normalStream(2);
  const luma = Float32Array.from({ length: SIZE }, () => 0.2 + 0.6 * random());
  const coloured = (part: number): Float32Array => luma.map((y, i) => (i < SIZE / 2 ? 0.1 : part * (1 - y)) + (noise / 255) * normal());
  return { raster: { luma, blue: coloured(-0.12), red: coloured(0.08) }, clear: Uint8Array.from(luma, (_, i) => Number(i >= SIZE / 2)) };
}

describe('the tone of a print', () => {
  it('is what each lightness has where it is clear of a veil', () => {
    const { raster, clear } = sepia(2);
    const tone = toneOf(raster, clear);
    for (const y of [0.3, 0.45, 0.7]) {
      expect(toneAt(tone?.blue ?? [], y)).toBeCloseTo(-0.12 * (1 - y), 2);
      expect(toneAt(tone?.red ?? [], y)).toBeCloseTo(0.08 * (1 - y), 2);
    }
    // What is darker or lighter than anything clear has the tone of what is nearest.
    expect(toneAt(tone?.blue ?? [], 0)).toBeCloseTo(-0.12 * 0.8, 1);
  });

  it('is none where a picture is in colour, or nothing of it clear', () => {
    const { raster, clear } = sepia(30);
    expect(toneOf(raster, clear)).toBeUndefined();
    expect(toneOf(sepia(1).raster, new Uint8Array(SIZE))).toBeUndefined();
  });
});
