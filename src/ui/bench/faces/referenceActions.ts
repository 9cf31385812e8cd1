import { saidOf } from '../../../shared/faceAmounts';
import {
  chosenAnew,
  type FaceReference,
  faceReferences,
  type FaceReferences,
  faceReferencesText,
  type ReferenceUse,
} from '../../../shared/faceReferences';
import type { ListedFace } from './faceActions';

/** What is said of a face; along a film it names the frame it is best seen in. */
const saidOfFace = (all: readonly FaceReferences[], { box, along }: ListedFace): FaceReferences | undefined =>
  saidOf(
    all.filter(({ frame }) => frame === along?.best),
    box,
  );

/** The pictures a face is restored by, as a setting says it. */
export const referencesOf = (value: string, face: ListedFace): FaceReference[] => saidOfFace(faceReferences(value), face)?.pictures ?? [];

/** What a setting says once a face has other pictures. */
export function withReferences(value: string, face: ListedFace, pictures: readonly FaceReference[]): string {
  const all = faceReferences(value);
  const said = saidOfFace(all, face);
  const middle = { x: face.box.x + face.box.width / 2, y: face.box.y + face.box.height / 2 };
  const own = { ...middle, ...(face.along && { frame: face.along.best }), pictures: [...pictures] };
  return faceReferencesText([...all.filter((one) => one !== said), own]);
}

/** What a setting says once pictures are chosen anew for a face: what was kept or left out stays so. */
export const withChosen = (value: string, face: ListedFace, found: readonly string[]): string =>
  withReferences(value, face, chosenAnew(referencesOf(value, face), found));

/** What a setting says once one of a face's pictures is used otherwise; undefined takes it away. */
export const withUse = (value: string, face: ListedFace, picture: string, use: ReferenceUse | undefined): string =>
  withReferences(
    value,
    face,
    referencesOf(value, face).flatMap((one) => (one.picture !== picture ? [one] : use ? [{ picture, use }] : [])),
  );

/** How many faces are restored by other pictures. */
export const restoredBy = (value: string, faces: readonly ListedFace[]): number =>
  faces.filter((face) => referencesOf(value, face).some(({ use }) => use !== 'left')).length;

/** A setting that is told in words. */
export const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');
