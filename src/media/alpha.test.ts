import fc from 'fast-check';
import { expect, it } from 'vitest';
import { fromRgb } from '../core';
import { streamInfo } from '../core/testing/pictures';
import { withOpacity } from './alpha';

const info = streamInfo({
  ...{ width: 1, height: 1, frames: 1, chromaShiftX: 0, chromaShiftY: 0, depth: 16 },
  colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
});

it('what is laid over black and over white tells its colour and its opacity', () => {
  const code = fc.integer({ min: 0, max: 65535 });
  fc.assert(
    fc.property(fc.tuple(code, code, code), fc.double({ min: 0.05, max: 1, noNaN: true }), (colour, opacity) => {
      const over = (ground: number) =>
        fromRgb(
          Uint16Array.from(colour, (v) => Math.round(v * opacity + ground * (1 - opacity))),
          3,
          info,
        );
      const [r, g, b, a] = withOpacity({ black: over(0), white: over(65535) });
      expect(Math.abs(a / 65535 - opacity)).toBeLessThan(1e-4);
      [r, g, b].forEach((v, c) => expect(Math.abs(v - colour[c])).toBeLessThan(6 / opacity));
    }),
  );
});
