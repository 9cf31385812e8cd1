import { describe, expect, it } from 'vitest';
import { refusedSize } from './limits';

const GIB = 2 ** 30;

describe('refusedSize', () => {
  it('takes scans and films of any usual size', () => {
    for (const [width, height, bytes] of [
      [720, 576, 5_000_000],
      [12_000, 9000, 60_000_000],
      // A blank page of 100 megapixels, as well packed as can be.
      [11_800, 8500, 110_000],
    ])
      expect(refusedSize(width, height, bytes, 24 * GIB)).toBeUndefined();
  });

  it('refuses what says it is large and holds nothing', () => {
    expect(refusedSize(19_999, 19_999, 3000, 64 * GIB)).toContain('next to nothing');
    expect(refusedSize(20_000, 12_000, 140, 64 * GIB)).toContain('next to nothing');
  });

  it('refuses what this machine has no memory for, and what is beyond all bounds', () => {
    expect(refusedSize(15_000, 15_000, 1e8, 4 * GIB)).toContain('5.4 GB of memory');
    expect(refusedSize(30_000, 30_000, 1e9, 512 * GIB)).toContain('400 megapixels');
  });
});
