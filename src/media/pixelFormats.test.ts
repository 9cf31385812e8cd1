import { describe, expect, it } from 'vitest';
import { layoutFor, planarName } from './pixelFormats';

describe('layoutFor', () => {
  it('leaves planar formats as they are', () => {
    expect(layoutFor('yuv420p')).toMatchObject({
      name: 'yuv420p',
      planes: 3,
      chromaShiftX: 1,
      chromaShiftY: 1,
      depth: 8,
      converted: false,
    });
    expect(layoutFor('yuv422p10le')).toMatchObject({ chromaShiftX: 1, chromaShiftY: 0, depth: 10, full: false });
    expect(layoutFor('yuv411p')).toMatchObject({ chromaShiftX: 2, chromaShiftY: 0 });
    expect(layoutFor('gray16le')).toMatchObject({ planes: 1, depth: 16, converted: false });
  });

  it('knows full range by the old names', () => {
    expect(layoutFor('yuvj420p')).toMatchObject({ depth: 8, full: true, converted: false });
  });

  it.each([
    ['nv12', 'yuv420p'],
    ['p010le', 'yuv420p10le'],
    ['uyvy422', 'yuv422p'],
    ['ya8', 'gray'],
    ['rgb24', 'yuv444p'],
    ['gbrp12le', 'yuv444p16le'],
    ['rgba64le', 'yuv444p16le'],
  ])('reads %s as %s, which loses nothing seen', (from, to) => {
    expect(layoutFor(from)).toMatchObject({ name: to, converted: true });
  });
});

describe('planarName', () => {
  it('names what layoutFor takes apart', () => {
    for (const depth of [8, 10, 12, 16] as const) {
      expect(layoutFor(planarName(1, 0, 0, depth))).toMatchObject({ planes: 1, depth, converted: false });
      for (const [x, y] of [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
        [2, 0],
      ])
        expect(layoutFor(planarName(3, x, y, depth))).toMatchObject({
          planes: 3,
          chromaShiftX: x,
          chromaShiftY: y,
          depth,
          converted: false,
        });
    }
  });
});
