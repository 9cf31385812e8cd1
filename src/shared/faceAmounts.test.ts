import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FACE_AMOUNTS, faceAmounts, faceAmountsText, faceOfEyes, saidOf } from './faceAmounts';

const share = fc.integer({ min: 0, max: 100_000 }).map((v) => v / 100_000);
const face = fc.record({ x: share, y: share, amount: fc.integer({ min: 0, max: 100 }) }, { requiredKeys: ['x', 'y', 'amount'] });
const turn = fc.integer({ min: -900, max: 900 }).map((v) => v / 10);
const added = fc.record(
  { x: share, y: share, amount: fc.integer({ min: 0, max: 100 }), width: share, turn },
  { requiredKeys: ['x', 'y', 'amount', 'width'] },
);

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

describe('a face of which the eyes are known', () => {
  const source = { width: 400, height: 300 };

  it('lies below them, as large as they are apart, upright', () => {
    const face = faceOfEyes({ x: 0.4, y: 0.5 }, { x: 0.5125, y: 0.5 }, source);
    expect(face.amount).toBe(100);
    expect(face.width).toBeCloseTo(0.25);
    expect(face.turn).toBeUndefined();
    expect(face.x).toBeCloseTo(0.45625);
    expect(face.y).toBeCloseTo(0.5 + (0.1 * 100) / 300);
  });

  it('is tilted as they are, whichever eye is named first', () => {
    const [one, other] = [
      { x: 0.5, y: 0.5 },
      { x: 0.6, y: 0.5 + 40 / 300 },
    ];
    const face = faceOfEyes(one, other, source);
    expect(face.turn).toBe(45);
    expect(face).toEqual(faceOfEyes(other, one, source));
    // Below the eyes is to the left of what is below on the page.
    expect(face.x).toBeLessThan(0.55);
  });
});
