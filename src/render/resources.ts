import { ANALYSES, findAnalysisIn, paintedStore, readMarks, readPicture } from '../archive';
import type { Resources } from '../core';
import type { SourceRef } from './segment';

/** What a plan of a source draws on beside its pictures: painted masks, hand work, pictures that are laid in, and what was measured. */
export const resourcesOf = ({ marks, derived }: Pick<SourceRef, 'marks' | 'derived'>): Omit<Resources, 'cache' | 'cancelled'> => ({
  painted: paintedStore(marks),
  marks: (hash) => readMarks(marks ?? '', hash),
  picture: (hash) => readPicture(marks ?? '', hash),
  analysis: findAnalysisIn(derived, ANALYSES),
});
