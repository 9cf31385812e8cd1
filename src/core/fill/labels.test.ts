import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { labelsOf } from './labels';

const maskOf = (rows: string[]): Uint8Array => Uint8Array.from(rows.join(''), (c) => Number(c === '#'));

describe('pieces of a mask', () => {
  it('hang together across corners, and where two arms meet further down', () => {
    const labels = labelsOf(maskOf(['#.#..#', '#.#...', '.#..##', '......']), 6, 4);
    expect(labels[0]).toBeGreaterThan(0);
    expect(labels[2]).toBe(labels[0]);
    expect(labels[13]).toBe(labels[0]);
    expect(labels[5]).not.toBe(labels[0]);
    expect(labels[16]).toBe(labels[17]);
    expect(labels[16]).not.toBe(labels[5]);
  });

  it('have one number where neighbours are both set, and none elsewhere', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 1 }), { minLength: 63, maxLength: 63 }), (cells) => {
        const labels = labelsOf(Uint8Array.from(cells), 9, 7);
        cells.forEach((set, i) => {
          expect(labels[i] > 0).toBe(set === 1);
          if (set && i % 9 < 8 && cells[i + 1]) expect(labels[i + 1]).toBe(labels[i]);
          if (set && i + 9 < 63 && cells[i + 9]) expect(labels[i + 9]).toBe(labels[i]);
        });
      }),
    );
  });
});
