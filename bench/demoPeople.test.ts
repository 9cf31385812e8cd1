import { describe, expect, it } from 'vitest';
import { PICTURES } from '../demo/people/sheet';
import { rowsOf, toldByPlace } from './demoPeople';

describe('whose face is whose', () => {
  it.each(Object.keys(PICTURES))('is told by where it stands in %s', (name) => {
    const rows = rowsOf(name);
    expect(rows.flat()).toEqual(PICTURES[name].rows.flat());
    // Faces as they stand, a little higher and lower, in any order.
    const faces = rows.flatMap((row, r) =>
      row.map((who, n) => ({ x: n / 10 + 0.01 * r, y: 0.3 * r + 0.02 * (n % 2), height: 0.1, own: who })),
    );
    const mixed = [...faces.filter((_, n) => n % 2), ...faces.filter((_, n) => n % 2 === 0).reverse()];
    for (const { face, who } of toldByPlace(mixed, name)) expect(who).toBe(face.own);
    expect(toldByPlace(mixed, name)).toHaveLength(faces.length);
    expect(toldByPlace(mixed.slice(1), name)).toEqual([]);
  });
});
