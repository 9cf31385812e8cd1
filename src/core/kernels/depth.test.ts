import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { narrow, widen } from './depth';

const depths = [8, 10, 12, 16];
const every = Uint16Array.from({ length: 65536 }, (_, code) => code);

function narrowed(codes: Uint16Array, depth: number, full: boolean): Uint8Array | Uint16Array {
  const out = depth === 8 ? new Uint8Array(codes.length) : new Uint16Array(codes.length);
  narrow(codes, depth, full, out, 0);
  return out;
}

function widened(samples: Uint8Array | Uint16Array, depth: number, full: boolean): number[] {
  const out = new Uint16Array(samples.length);
  widen(new Uint8Array(samples.buffer), depth, full, out);
  return [...out];
}

describe('depths', () => {
  it.each(depths)('round every code of full range to the nearest of %i bits', (depth) => {
    const top = 2 ** depth - 1;
    const off = narrowed(every, depth, true).findIndex((v, code) => v !== Math.round((code * top) / 65535));
    expect(off).toBe(-1);
  });

  it.each(depths)('round every code of limited range to the nearest of %i bits, the largest held', (depth) => {
    const step = 2 ** (16 - depth);
    const off = narrowed(every, depth, false).findIndex((v, code) => v !== Math.min(2 ** depth - 1, Math.floor(code / step + 0.5)));
    expect(off).toBe(-1);
  });

  it('give a file back what it held', () => {
    fc.assert(
      fc.property(
        fc
          .constantFrom(...depths)
          .chain((depth) => fc.tuple(fc.constant(depth), fc.array(fc.nat(2 ** depth - 1), { minLength: 1, maxLength: 40 }))),
        fc.boolean(),
        ([depth, values], full) => {
          const file = depth === 8 ? Uint8Array.from(values) : Uint16Array.from(values);
          const wide = widened(file, depth, full);
          if (full) values.forEach((v, i) => expect(wide[i]).toBe(Math.round((v * 65535) / (2 ** depth - 1))));
          expect([...narrowed(Uint16Array.from(wide), depth, full)]).toEqual(values);
        },
      ),
    );
  });

  it('write where they are told and nowhere else', () => {
    const out = new Uint8Array(12).fill(7);
    narrow(new Uint16Array(5).fill(0x8000), 8, false, out, 3);
    expect([...out]).toEqual([7, 7, 7, 128, 128, 128, 128, 128, 7, 7, 7, 7]);
  });
});
