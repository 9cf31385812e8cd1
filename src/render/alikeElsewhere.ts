import { type AlikePlace, alikePlaces, CodedError } from '../core';
import { filmColoursAnalysis, readAnalysis, readStrokes } from '../archive';

/** A mark of a list, and what was measured of the film it is drawn on. */
export interface AlikeRequest {
  /** The analysis. */
  file: string;
  /** Folder of the marks, the list's name, and the mark's. */
  folder: string;
  list: string;
  mark: string;
}

/**
 * Where other shots show what is marked.
 * @returns undefined until the film is measured.
 * @throws CodedError where there is no such mark.
 */
export async function findAlike({ file, folder, list, mark }: AlikeRequest): Promise<AlikePlace[] | undefined> {
  const found = (await readStrokes(folder, list)).find(({ id }) => id === mark);
  if (!found) throw new CodedError('mark', 'There is no such mark.');
  const kept = await readAnalysis(file, filmColoursAnalysis);
  return kept?.share === 1 ? alikePlaces(kept.value, found) : undefined;
}
