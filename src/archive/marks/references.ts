import { CodedError, type LaidPicture } from '../../core';
import { keepJson, readDocument } from './documents';
import { keepPicture } from './pictures';
import { type KeptReference, referenceIn, type ReferenceOrigin, TENTHS } from './referenceDocument';

/** Keeps a face with its mesh. @returns the name that a plan calls it by. */
export async function keepReference(folder: string, face: LaidPicture & { mesh: Float32Array }, from: ReferenceOrigin): Promise<string> {
  const kept: KeptReference = {
    ...{ format: 'wairetic-reference', version: 1, from },
    picture: await keepPicture(folder, face),
    mesh: Array.from(face.mesh, (v) => Math.round(TENTHS * v)),
  };
  return keepJson(folder, kept);
}

/** @throws CodedError where there is none of that name. */
export async function readReference(folder: string, hash: string): Promise<KeptReference> {
  const reference = referenceIn(await readDocument(folder, hash));
  if (!reference) throw new CodedError('mark', `What is kept as ${hash.slice(0, 12)}… is no picture of a face.`);
  return reference;
}
