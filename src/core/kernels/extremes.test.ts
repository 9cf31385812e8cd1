import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { extremes } from './extremes';

describe('extremes', () => {
  it('are those of the square round each sample', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 23 }),
        fc.integer({ min: 1, max: 19 }),
        fc.integer({ min: 1, max: 5 }),
        fc.infiniteStream(fc.float({ noNaN: true, noDefaultInfinity: true })),
        (width, height, radius, values) => {
          const plane = Float32Array.from({ length: width * height }, () => values.next().value as number);
          for (const which of ['least', 'highest'] as const) {
            const pick = which === 'least' ? Math.min : Math.max;
            const made = extremes(plane, width, height, radius, which);
            made.forEach((v, i) => {
              const x = i % width,
                y = Math.floor(i / width);
              const near = [...plane].filter(
                (_, k) => Math.abs((k % width) - x) <= radius && Math.abs(Math.floor(k / width) - y) <= radius,
              );
              expect(v + 0).toBe(pick(...near) + 0);
            });
          }
        },
      ),
      { numRuns: 30 },
    );
  });
});
