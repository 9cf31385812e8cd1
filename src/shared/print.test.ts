import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layOutPrint, PAPER_NAMES, PAPERS, printAdvice, type PrintOptions } from './print';

const portrait = { width: 2100, height: 2800 };

describe('a print', () => {
  it('says how many pixels an inch it has, and what helps where they do not suffice', () => {
    const layout = layOutPrint(portrait, { width: 300, height: 400, fit: 'whole', bleed: 0 });
    expect(layout.resolution).toBeCloseTo(177.8, 1);
    expect(printAdvice(layout)).toBe('177 px/in at 30 × 40 cm: Upscale 2x');
    expect(printAdvice(layOutPrint(portrait, { width: 127, height: 178, fit: 'whole', bleed: 0 }))).toBeUndefined();
    expect(printAdvice(layOutPrint({ width: 300, height: 400 }, { width: 300, height: 400, fit: 'whole', bleed: 0 }))).toContain(
      'smaller print',
    );
  });

  it('turns with its picture', () => {
    const { trim } = layOutPrint({ width: 2800, height: 2100 }, { width: 300, height: 400, fit: 'whole', bleed: 0 });
    expect(trim).toMatchObject({ width: 400, height: 300 });
  });

  it('that does not fit on its paper is refused', () => {
    expect(() => layOutPrint(portrait, { width: 203, height: 305, fit: 'fill', bleed: 3, paper: 'A4' })).toThrow(
      'A print of 20.3 × 30.5 cm with 3 mm of bleed does not fit on A4.',
    );
  });

  it('of whole pictures lies within its trim, of filled ones covers trim and bleed; both in the middle of the sheet, undistorted', () => {
    const size = fc.integer({ min: 50, max: 9000 }),
      mm = fc.integer({ min: 20, max: 800 });
    const options = fc.record({
      width: mm,
      height: mm,
      fit: fc.constantFrom('whole' as const, 'fill' as const),
      bleed: fc.integer({ min: 0, max: 20 }),
    });
    fc.assert(
      fc.property(fc.record({ width: size, height: size }), options, (picture, print: PrintOptions) => {
        const { sheet, trim, picture: p, bleed } = layOutPrint(picture, print);
        expect(p.width / p.height).toBeCloseTo(picture.width / picture.height, 6);
        for (const box of [trim, p]) {
          expect(box.x + box.width / 2).toBeCloseTo(sheet.width / 2, 6);
          expect(box.y + box.height / 2).toBeCloseTo(sheet.height / 2, 6);
        }
        if (print.fit === 'whole') {
          expect(p.width).toBeLessThanOrEqual(trim.width + 1e-6);
          expect(p.height).toBeLessThanOrEqual(trim.height + 1e-6);
        } else {
          expect(p.width).toBeGreaterThanOrEqual(trim.width + 2 * bleed - 1e-6);
          expect(p.height).toBeGreaterThanOrEqual(trim.height + 2 * bleed - 1e-6);
        }
      }),
    );
  });

  it('knows papers upright', () => {
    for (const name of PAPER_NAMES) expect(PAPERS[name][0]).toBeLessThan(PAPERS[name][1]);
  });
});
