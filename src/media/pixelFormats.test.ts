import { describe, expect, it } from 'vitest';
import { CHROMA_SHIFTS } from '../core/testing/pictures';
import { hasAlpha, layoutFor, writtenLayout } from './pixelFormats';

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
    expect(layoutFor('gbrp12le')).toMatchObject({ planes: 3, depth: 12, rgb: true, full: true, converted: false });
  });

  it('knows full range by the old names, and takes grey for full', () => {
    expect(layoutFor('yuvj420p')).toMatchObject({ depth: 8, full: true, converted: false });
    expect(layoutFor('gray')).toMatchObject({ full: true });
  });

  it.each([
    ['nv12', 'yuv420p'],
    ['p010le', 'yuv420p10le'],
    ['uyvy422', 'yuv422p'],
    ['uyyvyy411', 'yuv411p'],
    ['y210le', 'yuv422p10le'],
    ['yuv422p10be', 'yuv422p10le'],
    ['yuva444p12le', 'yuv444p12le'],
    ['yuva420p', 'yuv420p'],
    ['ya8', 'gray'],
    ['gray16be', 'gray16le'],
    ['monob', 'gray'],
    ['rgb24', 'gbrp'],
    ['bgr0', 'gbrp'],
    ['0rgb', 'gbrp'],
    ['argb', 'gbrp'],
    ['pal8', 'gbrp'],
    ['rgb555le', 'gbrp'],
    ['bgr565be', 'gbrp'],
    ['gbrap10le', 'gbrp10le'],
    ['rgb48be', 'gbrp16le'],
    ['rgba64le', 'gbrp16le'],
    ['x2rgb10le', 'gbrp10le'],
  ])('reads %s as %s, whose samples are the same', (from, to) => {
    expect(layoutFor(from)).toMatchObject({ name: to, converted: true });
  });

  it('takes what it does not know at a depth that loses nothing', () => {
    expect(layoutFor('new99')).toMatchObject({ name: 'gbrp16le' });
  });
});

it('hasAlpha knows the formats with transparency', () => {
  expect(['ya8', 'rgba', 'bgra64le', 'yuva444p10le', 'gbrap', 'argb'].every(hasAlpha)).toBe(true);
  expect(['gray', 'rgb24', 'yuv420p', 'gbrp', 'pal8'].some(hasAlpha)).toBe(false);
});

describe('writtenLayout', () => {
  it('names what layoutFor takes apart, with chroma at least as fine', () => {
    for (const depth of [8, 10, 12, 16] as const) {
      for (const rgb of [false, true])
        expect(layoutFor(writtenLayout({ planes: 1, chromaShiftX: 0, chromaShiftY: 0, rgb }, depth).name)).toMatchObject({
          planes: 1,
          depth,
        });
      for (const [x, y] of CHROMA_SHIFTS) {
        const written = writtenLayout({ planes: 3, chromaShiftX: x, chromaShiftY: y }, depth);
        expect(layoutFor(written.name)).toEqual(written);
        expect(written.chromaShiftX).toBeLessThanOrEqual(x);
        expect(written.chromaShiftY).toBeLessThanOrEqual(y);
      }
    }
  });

  it('keeps the subsampling wherever there is a format of it', () => {
    for (const [x, y] of CHROMA_SHIFTS)
      expect(writtenLayout({ planes: 3, chromaShiftX: x, chromaShiftY: y }, 8)).toMatchObject({ chromaShiftX: x, chromaShiftY: y });
    expect(writtenLayout({ planes: 3, chromaShiftX: 2, chromaShiftY: 0 }, 10).name).toBe('yuv422p10le');
    expect(writtenLayout({ planes: 3, chromaShiftX: 0, chromaShiftY: 1 }, 12).name).toBe('yuv440p12le');
  });

  it('keeps red, green and blue', () => {
    expect(writtenLayout({ planes: 3, chromaShiftX: 0, chromaShiftY: 0, rgb: true }, 16).name).toBe('gbrp16le');
  });
});
