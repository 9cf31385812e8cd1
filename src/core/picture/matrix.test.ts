import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { picture, streamInfo } from '../testing/pictures';
import { changeMatrix, defaultMatrix, fromRgb, fromRgbMatrix, toRgb, toRgbMatrix } from './matrix';
import { newPlane, type Matrix } from './picture';
import { toScreen } from './screen';

describe('colour matrices', () => {
  it('are those of the Recommendations', () => {
    // ITU-R BT.601-7, 2.5.1-2 and BT.709-6, 3.2-3.3, to their printed digits.
    expect(fromRgbMatrix('bt601')[0].map((v) => v.toFixed(3))).toEqual(['0.299', '0.587', '0.114']);
    expect(fromRgbMatrix('bt601')[1].map((v) => v.toFixed(3))).toEqual(['-0.169', '-0.331', '0.500']);
    expect(fromRgbMatrix('bt709')[0].map((v) => v.toFixed(4))).toEqual(['0.2126', '0.7152', '0.0722']);
    expect(fromRgbMatrix('bt709')[2].map((v) => v.toFixed(4))).toEqual(['0.5000', '-0.4542', '-0.0458']);
    expect(toRgbMatrix('bt601').map((r) => r.map((v) => v.toFixed(3)))).toEqual([
      ['1.000', '0.000', '1.402'],
      ['1.000', '-0.344', '-0.714'],
      ['1.000', '1.772', '0.000'],
    ]);
  });

  it('undo each other', () => {
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(unit, unit, unit, fc.constantFrom<Matrix>('bt601', 'bt709', 'bt2020'), (r, g, b, matrix) => {
        const times = (m: number[][], v: number[]): number[] => m.map((row) => row.reduce((sum, w, i) => sum + w * v[i], 0));
        times(toRgbMatrix(matrix), times(fromRgbMatrix(matrix), [r, g, b])).forEach((v, i) => expect(v).toBeCloseTo([r, g, b][i], 9));
      }),
    );
  });

  it('default to BT.601 below 720 lines and BT.709 from there on', () => {
    expect([480, 576, 719, 720, 1080].map(defaultMatrix)).toEqual(['bt601', 'bt601', 'bt601', 'bt709', 'bt709']);
  });
});

describe('changeMatrix', () => {
  /** One colour as limited-range code values of a matrix. */
  function coded(rgb: number[], matrix: Matrix) {
    const [y, cb, cr] = fromRgbMatrix(matrix).map((row) => row.reduce((sum, w, i) => sum + w * rgb[i], 0));
    const fill = (v: number, size: number) => newPlane(size, size, Math.round(v));
    const info = streamInfo({ width: 16, height: 16, colour: { ...streamInfo().colour, matrix } });
    return {
      info,
      region: { x: 0, y: 0, width: 16, height: 16 },
      planes: [fill(4096 + 219 * 256 * y, 16), fill(32768 + 224 * 256 * cb, 8), fill(32768 + 224 * 256 * cr, 8)],
    };
  }

  it('keeps the colour: 75 % bars of BT.601 become those of BT.709', () => {
    for (const rgb of [
      [0.75, 0.75, 0],
      [0, 0.75, 0.75],
      [0, 0.75, 0],
      [0.75, 0, 0.75],
      [0.75, 0, 0],
      [0, 0, 0.75],
      [0.4, 0.4, 0.4],
    ]) {
      const changed = changeMatrix(coded(rgb, 'bt601'), 'bt709'),
        expected = coded(rgb, 'bt709');
      changed.planes.forEach((plane, i) => expect(Math.abs(plane.data[40] - expected.planes[i].data[40])).toBeLessThanOrEqual(2));
      expect(changed.info.colour.matrix).toBe('bt709');
    }
  });

  it('leaves greys and pictures of the same matrix alone', () => {
    const grey = coded([0.5, 0.5, 0.5], 'bt601');
    expect(changeMatrix(grey, 'bt709').planes.map((p) => p.data[0])).toEqual(grey.planes.map((p) => p.data[0]));
    expect(changeMatrix(grey, 'bt601').planes).toBe(grey.planes);
  });
});

describe('toScreen', () => {
  for (const [name, info] of [
    ['4:2:0 limited', streamInfo({ width: 37, height: 22 })],
    ['4:2:2 limited', streamInfo({ width: 40, height: 21, chromaShiftY: 0 })],
    [
      '4:4:4 full',
      streamInfo({ width: 33, height: 17, chromaShiftX: 0, chromaShiftY: 0, colour: { ...streamInfo().colour, range: 'full' } }),
    ],
    ['monochrome', streamInfo({ width: 30, height: 9, planes: 1 })],
  ] as const) {
    it(`agrees with the plain conversion, ${name}`, () => {
      const source = picture(info);
      const plain = toRgb(source, 8),
        shown = toScreen(source);
      for (let i = 0; i < info.width * info.height; i++) {
        for (let c = 0; c < 3; c++) expect(Math.abs(shown[4 * i + c] - plain[3 * i + c])).toBeLessThanOrEqual(1);
        expect(shown[4 * i + 3]).toBe(255);
      }
    });
  }
});

describe('fromRgb and toRgb', () => {
  it('give 16-bit samples back within rounding', () => {
    const info = streamInfo({
      width: 24,
      height: 10,
      frames: 1,
      chromaShiftX: 0,
      chromaShiftY: 0,
      depth: 16,
      colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
    });
    const samples = Uint16Array.from({ length: 24 * 10 * 3 }, (_, i) => (i * 7919) % 65536);
    const back = toRgb(fromRgb(samples, 3, info), 16);
    samples.forEach((v, i) => expect(Math.abs(back[i] - v)).toBeLessThanOrEqual(2));
  });
});
