import type { FaceAmount } from './faceAmounts';

/** What is wanted of a picture that a face may be restored by: `left` stays out when others are chosen anew, `kept` stays in. */
export type ReferenceUse = 'chosen' | 'kept' | 'left';

/** Another picture of a person, as a setting holds it. */
export interface FaceReference {
  /** Name it is kept under: its SHA-256. */
  picture: string;
  use: ReferenceUse;
}

/** A face, and the pictures it is restored by. */
export interface FaceReferences extends Pick<FaceAmount, 'x' | 'y' | 'frame'> {
  pictures: FaceReference[];
}

/** Pictures a face is restored by, at most. */
export const MOST_REFERENCES = 4;

const SIGNS: Readonly<Record<ReferenceUse, string>> = { chosen: '', kept: '!', left: '-' };
const NUMBER = '[01](?:\\.\\d{1,5})?';
const PICTURE = '[!-]?[0-9a-f]{64}';
const ONE = `${NUMBER},${NUMBER}(?:@\\d{1,7})?=${PICTURE}(?:,${PICTURE})*`;
/** Faces and their references as a setting holds them; others have none. */
export const FACE_REFERENCES = new RegExp(`^(?:${ONE}(?: ${ONE})*)?$`);

export const faceReferences = (text: string): FaceReferences[] =>
  text
    .split(' ')
    .filter(Boolean)
    .map((face) => {
      const [at, list] = face.split('=');
      const [place, frame] = at.split('@');
      const [x, y] = place.split(',').map(Number);
      const pictures = list.split(',').map((one): FaceReference => {
        const use = (Object.keys(SIGNS) as ReferenceUse[]).find((key) => SIGNS[key] !== '' && one.startsWith(SIGNS[key])) ?? 'chosen';
        return { picture: one.slice(SIGNS[use].length), use };
      });
      return { x, y, ...(frame !== undefined && { frame: Number(frame) }), pictures };
    });

export function faceReferencesText(faces: readonly FaceReferences[]): string {
  const short = (v: number): string => String(Number(Math.min(1, Math.max(0, v)).toFixed(5)));
  return faces
    .filter(({ pictures }) => pictures.length > 0)
    .map(({ x, y, frame, pictures }) => {
      const place = `${short(x)},${short(y)}${frame === undefined ? '' : `@${frame}`}`;
      return `${place}=${pictures.map(({ picture, use }) => SIGNS[use] + picture).join(',')}`;
    })
    .join(' ');
}

/** The pictures that faces are restored by. */
export const usedReferences = (pictures: readonly FaceReference[]): string[] =>
  pictures
    .filter(({ use }) => use !== 'left')
    .slice(0, MOST_REFERENCES)
    .map(({ picture }) => picture);

/** A face's pictures once others are chosen for it: what is kept or left stays so, and comes first. */
export function chosenAnew(pictures: readonly FaceReference[], found: readonly string[]): FaceReference[] {
  const told = pictures.filter(({ use }) => use !== 'chosen');
  const fresh = found.filter((picture) => !told.some((one) => one.picture === picture));
  const room = Math.max(0, MOST_REFERENCES - told.filter(({ use }) => use === 'kept').length);
  return [...told, ...fresh.slice(0, room).map((picture): FaceReference => ({ picture, use: 'chosen' }))];
}
