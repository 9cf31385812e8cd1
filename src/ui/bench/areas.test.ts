import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readMask } from '../../core/plan/mask';
import { areaText, freshArea, moved, replaced, stretched, withArea, without } from './areas';

describe('areas of a mask', () => {
  it('stay such that a plan takes them, whatever is done to them', () => {
    const by = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(
        fc.constantFrom('oval' as const, 'box' as const),
        by,
        by,
        fc.array(fc.tuple(fc.boolean(), by, by)),
        (shape, u, v, moves) => {
          const area = moves.reduce((a, [move, dx, dy]) => (move ? moved(a, dx, dy) : stretched(a, dx, dy)), freshArea(shape, u, v));
          expect(readMask(withArea(undefined, area))).not.toHaveProperty('problems');
        },
      ),
    );
  });

  it('are added, replaced and taken out; the last takes the mask with it', () => {
    const one = withArea(undefined, freshArea('oval', 0.5, 0.5)),
      two = withArea({ ...one, outside: true }, freshArea('box', 0.2, 0.2));
    expect(two.areas.map((a) => a.shape)).toEqual(['oval', 'box']);
    expect(two.outside).toBe(true);
    expect(replaced(two, 0, moved(two.areas[0], 0.1, 0)).areas[0].x).toBeCloseTo(0.45);
    expect(without(two, 0)?.areas).toEqual([two.areas[1]]);
    expect(without(one, 0)).toBeUndefined();
    expect(areaText(one.areas[0])).toBe('oval, 30 × 40 %');
  });
});
