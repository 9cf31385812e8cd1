import type { Analysis } from './analysis';
import { conditionAnalysis } from './condition';
import { frameTimes } from './frameTimes';
import { tracesAnalysis } from './traces';

/** Everything that is measured once and kept. */
export const ANALYSES = [frameTimes, conditionAnalysis, tracesAnalysis] as unknown as Analysis<unknown>[];

export const analysisOf = (id: string): Analysis<unknown> | undefined => ANALYSES.find((a) => a.id === id);
