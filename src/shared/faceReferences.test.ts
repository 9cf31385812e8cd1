import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  chosenAnew,
  FACE_REFERENCES,
  type FaceReference,
  faceReferences,
  faceReferencesText,
  MOST_REFERENCES,
  usedReferences,
} from './faceReferences';

const share = fc.integer({ min: 0, max: 100_000 }).map((v) => v / 100_000);
const picture = fc.integer({ min: 0, max: 2 ** 31 }).map((n) => n.toString(16).padStart(64, '0'));
const reference: fc.Arbitrary<FaceReference> = fc.record({ picture, use: fc.constantFrom('chosen', 'kept', 'left') });
const references = fc.uniqueArray(reference, { selector: (one) => one.picture, minLength: 1, maxLength: 7 });
const face = fc.record({ x: share, y: share, frame: fc.nat(9_999_999), pictures: references }, { requiredKeys: ['x', 'y', 'pictures'] });

describe('the pictures that faces are restored by', () => {
  it('are written and read', () => {
    fc.assert(
      fc.property(fc.array(face, { maxLength: 5 }), (faces) => {
        const text = faceReferencesText(faces);
        expect(text).toMatch(FACE_REFERENCES);
        expect(faceReferences(text)).toEqual(faces);
      }),
    );
  });

  it('are refused in any other form', () => {
    for (const text of ['0.5,0.5', '0.5,0.5=abc', `2,0.5=${'a'.repeat(64)}`, `0.5,0.5=?${'a'.repeat(64)}`, `0.5,0.5=${'a'.repeat(64)},`])
      expect(text).not.toMatch(FACE_REFERENCES);
  });

  it('are used but for those that are left out, and so many at most', () => {
    fc.assert(
      fc.property(references, (pictures) => {
        const used = usedReferences(pictures);
        expect(used.length).toBeLessThanOrEqual(MOST_REFERENCES);
        for (const { picture: name, use } of pictures) if (use === 'left') expect(used).not.toContain(name);
      }),
    );
  });

  it('chosen anew keep what was said by hand', () => {
    fc.assert(
      fc.property(references, fc.uniqueArray(picture, { maxLength: 6 }), (before, found) => {
        const after = chosenAnew(before, found);
        const told = before.filter(({ use }) => use !== 'chosen');
        expect(after.slice(0, told.length)).toEqual(told);
        for (const { picture: name, use } of after.slice(told.length)) {
          expect(use).toBe('chosen');
          expect(found).toContain(name);
        }
        expect(new Set(after.map((one) => one.picture)).size).toBe(after.length);
        const kept = told.filter(({ use }) => use === 'kept').length;
        expect(after.length - told.length).toBeLessThanOrEqual(Math.max(0, MOST_REFERENCES - kept));
      }),
    );
  });
});
