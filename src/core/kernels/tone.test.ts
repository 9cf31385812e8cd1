import fc from 'fast-check';
import { expect, it } from 'vitest';
import { fromRgbMatrix, toRgbMatrix } from '../picture/matrix';
import { newPlane, type Plane } from '../picture/picture';
import { randomStream } from '../picture/random';
import { DARKEST, FINE, stopTables } from '../tone/stops';
import { referenceStops, referenceTone, type ToneOptions } from './reference/tone';
import { tonePixels, toneStops } from './tone';

const { ofCode, codes } = stopTables('srgb');

function optionsOf(width: number, height: number, seed: number, colours: boolean, look: Partial<ToneOptions>): ToneOptions {
  const random = randomStream(seed);
  const plane = (): Plane => {
    const made = newPlane(width, height);
    made.data.forEach((_, i) => (made.data[i] = random() * 65536));
    return made;
  };
  const count = colours ? 3 : 1;
  return {
    planes: Array.from({ length: count }, plane),
    ...{ place: { x: 4, y: 2, width, height }, frame: { width: width + 9, height: height + 5 } },
    ...{ black: 4096, span: 219 * 256, chromaSpan: 224 * 256 },
    ...{ rgb: toRgbMatrix('bt709'), matrix: fromRgbMatrix('bt709') },
    tables: Array.from({ length: count }, (_, n) => ofCode.map((stops) => stops * (1 + n / 10) + 0.4)),
    ...{ codes, darkest: DARKEST, fine: FINE, uneven: { across: 0, down: 0, corners: 0 } },
    ...{ strength: 1, pale: 1, strongFrom: 16384, ...look },
  };
}

it('gives tones as the reference does, to the last bit', () => {
  const share = fc.double({ min: -1, max: 1, noNaN: true });
  const size = fc.integer({ min: 3, max: 24 });
  const wanted = fc.record({
    ...{ width: size, height: size, seed: fc.nat(999), colours: fc.boolean(), moves: fc.boolean() },
    ...{ uneven: fc.boolean(), recolours: fc.boolean(), one: share, two: share },
  });
  fc.assert(
    fc.property(wanted, ({ width, height, seed, colours, moves, uneven, recolours, one, two }) => {
      const options = optionsOf(width, height, seed, colours, {
        ...(uneven && { uneven: { across: one, down: two, corners: one - two } }),
        ...(recolours && { strength: 1 + two / 2, pale: 1 + one / 2 }),
      });
      expect(toneStops(options)).toEqual(referenceStops(options));
      const part = { x: 5, y: 3, width: width - 2, height: height - 2 };
      const moved = moves ? referenceStops(options).map((stops) => stops / 4) : undefined;
      expect(tonePixels(options, part, moved)).toEqual(referenceTone(options, part, moved));
    }),
  );
});
