import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fromRgbMatrix, toRgbMatrix } from '../picture/matrix';
import { referencePlanes, referenceRgb } from './reference/rgb';
import { putPlanes, putRgbOf } from './rgb';

const sample = fc.integer({ min: 0, max: 65535 });
const matrix = fc.constantFrom('bt601' as const, 'bt709' as const, 'bt2020' as const);

describe('pixels and planes', () => {
  it('are made of one another as the references do', () => {
    fc.assert(
      fc.property(fc.array(sample, { minLength: 3, maxLength: 60 }), matrix, fc.boolean(), fc.boolean(), (values, name, wide, limited) => {
        const whole = values.slice(0, 3 * Math.floor(values.length / 3));
        const samples = wide ? Uint16Array.from(whole) : Uint8Array.from(whole, (v) => v >> 8);
        const planes = (): Uint16Array[] => [0, 1, 2].map(() => new Uint16Array(samples.length / 3 + 2));
        const [made, told] = [planes(), planes()];
        putPlanes(samples, fromRgbMatrix(name), made, 2);
        referencePlanes(samples, fromRgbMatrix(name), told, 2);
        expect(made).toEqual(told);
        const figures = limited
          ? { black: 4096, gainY: 65535 / 56064, gainC: 65535 / 57344, rows: toRgbMatrix(name) }
          : { black: 0, gainY: 1, gainC: 1, rows: toRgbMatrix(name) };
        const out = (): Uint8Array | Uint16Array => (wide ? new Uint16Array(3 * made[0].length) : new Uint8Array(3 * made[0].length));
        const [pixels, expected] = [out(), out()];
        // Any samples may stand side by side, also those no colour has.
        const any = [made[2], made[0], made[1]];
        putRgbOf(any, figures, pixels);
        referenceRgb(any, figures, expected);
        expect(pixels).toEqual(expected);
      }),
    );
  });

  it('are worked on in parts that leave no seam', () => {
    const samples = Uint8Array.from({ length: 3 * 600_001 }, (_, i) => (i * 7) % 251);
    const planes = (): Uint16Array[] => [0, 1, 2].map(() => new Uint16Array(600_001));
    const [made, told] = [planes(), planes()];
    putPlanes(samples, fromRgbMatrix('bt601'), made, 0);
    referencePlanes(samples, fromRgbMatrix('bt601'), told, 0);
    made.forEach((plane, n) => expect(plane.every((v, i) => v === told[n][i])).toBe(true));
    const figures = { black: 0, gainY: 255 / 65535, gainC: 255 / 65535, rows: toRgbMatrix('bt601') };
    const [pixels, expected] = [new Uint8Array(samples.length), new Uint8Array(samples.length)];
    putRgbOf(made, figures, pixels);
    referenceRgb(made, figures, expected);
    expect(pixels.every((v, i) => v === expected[i])).toBe(true);
  });
});
