import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FACE_AMOUNTS, faceAmounts, faceAmountsText, saidOf } from './faceAmounts';

const share = fc.integer({ min: 0, max: 100_000 }).map((v) => v / 100_000);
const face = fc.record({ x: share, y: share, amount: fc.integer({ min: 0, max: 100 }) }, { requiredKeys: ['x', 'y', 'amount'] });
const added = fc.record({ x: share, y: share, amount: fc.integer({ min: 0, max: 100 }), width: share });

describe('what is said of faces', () => {
  it('is written and read', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(face, added), { maxLength: 8 }), (faces) => {
        const text = faceAmountsText(faces);
        expect(text).toMatch(FACE_AMOUNTS);
        expect(faceAmounts(text)).toEqual(faces);
      }),
    );
  });

  it('belongs to the face it was said of', () => {
    const said = faceAmounts('0.31,0.42,50 0.7,0.4,0 0.3,0.4,80,0.1');
    expect(saidOf(said, { x: 0.25, y: 0.35, width: 0.1, height: 0.14 })?.amount).toBe(50);
    expect(saidOf(said, { x: 0.65, y: 0.35, width: 0.1, height: 0.14 })?.amount).toBe(0);
    expect(saidOf(said, { x: 0.05, y: 0.35, width: 0.1, height: 0.14 })).toBeUndefined();
  });

  it('that is none is refused', () => {
    for (const text of ['0.3,0.4', '0.3,0.4,a', '3,0.4,50', '0.3;0.4;50', '0.3,0.4,50,']) expect(text).not.toMatch(FACE_AMOUNTS);
  });
});
