import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readMask, type Mask, type Shape } from '../../../shared/masks/mask';
import { cornerAdded, cornerMoved, cornerRemoved, freshShape, moved, replaced, shapeText, stretched, withPart, without } from './parts';

const KINDS = ['oval', 'box', 'polygon', 'straight', 'radial', 'painted'] as const;
const DOCUMENT = 'a'.repeat(64);

describe('parts of a mask', () => {
  it('stay such that a plan takes them, whatever is done to them', () => {
    const by = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(
        fc.constantFrom(...KINDS),
        fc.double({ min: 0, max: 1, noNaN: true }),
        by,
        fc.array(fc.tuple(fc.boolean(), by, by)),
        (kind, u, v, moves) => {
          const start = freshShape(kind, u, Math.abs(v) % 1, DOCUMENT);
          const shape = moves.reduce<Shape>((s, [move, dx, dy]) => (move ? moved(s, dx, dy) : stretched(s, dx, dy)), start);
          expect(readMask(withPart(undefined, shape))).not.toHaveProperty('problems');
        },
      ),
    );
  });

  it('are added in their way, replaced and taken out; the last takes the mask with it', () => {
    const one = withPart(undefined, freshShape('oval', 0.5, 0.5), 'subtract'),
      two = withPart({ ...one, inverse: true }, freshShape('box', 0.2, 0.2), 'intersect');
    expect(two.parts.map((p) => [p.shape.kind, p.combine])).toEqual([
      ['oval', 'add'],
      ['box', 'intersect'],
    ]);
    expect(two.inverse).toBe(true);
    expect((replaced(two, 0, { shape: moved(two.parts[0].shape, 0.1, 0) }).parts[0].shape as { x: number }).x).toBeCloseTo(0.45);
    // What is first then has nothing before it to be held in common with.
    expect((without(two, 0) as Mask).parts).toEqual([{ ...two.parts[1], combine: 'add' }]);
    expect(without(one, 0)).toBeUndefined();
    // A brush has its own softness; a shape's edge is soft at first.
    expect(withPart(undefined, freshShape('painted', 0.5, 0.5, DOCUMENT)).feather).toBe(0);
    expect(one.feather).toBe(0.02);
  });

  it('name themselves', () => {
    expect(KINDS.map((kind) => shapeText(freshShape(kind, 0.5, 0.5)))).toEqual([
      'oval, 30 × 40 %',
      'box, 30 × 40 %',
      'polygon, 6 corners',
      'straight gradient',
      'round gradient, 30 × 40 %',
      'painted',
    ]);
  });

  it('of a polygon gain, lose and move corners; three stay', () => {
    const { corners } = freshShape('polygon', 0.5, 0.5) as Extract<Shape, { kind: 'polygon' }>;
    const more = cornerAdded(corners, 2);
    expect(more).toHaveLength(7);
    expect(more[2].x).toBeCloseTo((corners[1].x + corners[2].x) / 2, 4);
    expect(cornerMoved(more, 2, { x: 0.1, y: 9 })[2]).toEqual({ x: 0.1, y: 2 });
    expect(Array.from({ length: 9 }).reduce<typeof corners>((c) => cornerRemoved(c, 0), more)).toHaveLength(3);
  });
});
