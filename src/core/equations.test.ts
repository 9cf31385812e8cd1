import fc from 'fast-check';
import { expect, it } from 'vitest';
import { solvedEquations } from './equations';

it('finds what was put in', () => {
  const entry = fc.double({ min: -1, max: 1, noNaN: true });
  fc.assert(
    fc.property(fc.array(entry, { minLength: 12, maxLength: 12 }), (values) => {
      // Heavy on the diagonal, so that there is one answer.
      const rows = [0, 1, 2].map((r) => [0, 1, 2].map((c) => values[3 * r + c] + (r === c ? 4 : 0)));
      const truth = values.slice(9);
      const found = solvedEquations(rows.map((row) => [...row, row.reduce((sum, v, c) => sum + v * truth[c], 0)]));
      found.forEach((v, n) => expect(v).toBeCloseTo(truth[n], 9));
    }),
  );
});

it('leaves an unknown at nought that nothing says', () => {
  expect(
    solvedEquations([
      [2, 0, 6],
      [0, 0, 0],
    ]),
  ).toEqual([3, 0]);
});
