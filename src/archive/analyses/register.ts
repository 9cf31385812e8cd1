import type { Analysis } from './analysis';
import { condition } from './condition';
import { frameTimes } from './frameTimes';
import { traces } from './traces';

/** Everything that is measured once and kept. */
export const ANALYSES = [frameTimes, condition, traces] as unknown as Analysis<unknown>[];

export const analysisOf = (id: string): Analysis<unknown> | undefined => ANALYSES.find((a) => a.id === id);
