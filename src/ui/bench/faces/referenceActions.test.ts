import { describe, expect, it } from 'vitest';
import { FACE_REFERENCES } from '../../../shared/faceReferences';
import type { ListedFace } from './faceActions';
import { referencesOf, restoredBy, withChosen, withReferences, withUse } from './referenceActions';

const [A, B, C, D, E] = ['a', 'b', 'c', 'd', 'e'].map((letter) => letter.repeat(64));
const face = (x: number, best?: number): ListedFace => ({
  ...{ box: { x, y: 0.2, width: 0.1, height: 0.1 }, pixels: 80, amount: 100 },
  ...(best !== undefined && { along: { first: 0, last: 90, best } }),
});

describe('references of faces', () => {
  it('are said of the face they were chosen for, and of no other', () => {
    const value = withChosen(withChosen('', face(0.1), [A, B]), face(0.6), [C]);
    expect(value).toMatch(FACE_REFERENCES);
    expect(referencesOf(value, face(0.1)).map(({ picture }) => picture)).toEqual([A, B]);
    expect(referencesOf(value, face(0.6)).map(({ picture }) => picture)).toEqual([C]);
    expect(referencesOf(value, face(0.35))).toEqual([]);
    expect(restoredBy(value, [face(0.1), face(0.35), face(0.6)])).toBe(2);
  });

  it('stay in or out when others are chosen anew', () => {
    const told = withUse(withUse(withChosen('', face(0.1), [A, B, C]), face(0.1), A, 'left'), face(0.1), B, 'kept');
    expect(referencesOf(withChosen(told, face(0.1), [A, D, E]), face(0.1))).toEqual([
      { picture: A, use: 'left' },
      { picture: B, use: 'kept' },
      { picture: D, use: 'chosen' },
      { picture: E, use: 'chosen' },
    ]);
  });

  it('are gone with the last of them', () => {
    const one = withChosen('', face(0.1), [A]);
    expect(withUse(one, face(0.1), A, undefined)).toBe('');
    expect(restoredBy(withUse(one, face(0.1), A, 'left'), [face(0.1)])).toBe(0);
  });

  it('along a film are said of the frame that a face is best seen in', () => {
    const value = withReferences('', face(0.1, 40), [{ picture: A, use: 'chosen' }]);
    expect(value).toContain('@40=');
    expect(referencesOf(value, face(0.1, 40))).toHaveLength(1);
    expect(referencesOf(value, face(0.1, 7))).toEqual([]);
  });
});
