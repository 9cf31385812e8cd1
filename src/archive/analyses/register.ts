import type { Analysis } from './analysis';
import { appearancesAnalysis } from './appearances';
import { coloursAnalysis } from './colours';
import { conditionAnalysis } from './condition';
import { facesAnalysis } from './faces';
import { filmColoursAnalysis } from './filmColours';
import { filmFacesAnalysis } from './filmFaces';
import { frameTimes } from './frameTimes';
import { silveringAnalysis } from './silvering';
import { subjectAnalysis } from './subject';
import { thumbnailAnalysis } from './thumbnail';
import { tonesAnalysis } from './tones';
import { tracesAnalysis } from './traces';

/** Everything that is measured once and kept. */
export const ANALYSES = [
  frameTimes,
  thumbnailAnalysis,
  conditionAnalysis,
  tracesAnalysis,
  silveringAnalysis,
  subjectAnalysis,
  facesAnalysis,
  appearancesAnalysis,
  tonesAnalysis,
  coloursAnalysis,
  filmColoursAnalysis,
  filmFacesAnalysis,
] as unknown as Analysis<unknown>[];

export const analysisOf = (id: string): Analysis<unknown> | undefined => ANALYSES.find((a) => a.id === id);
