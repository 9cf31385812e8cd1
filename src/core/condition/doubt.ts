import type { Doubted, PlaneReading } from '../networks/condition';

/** Octaves off at which a reading still serves; `confidenceOf` is the chance that it is no further off. */
const TOLERATED = 0.5;

/** How sure a reading is, 0 to 1: of a Laplace distribution of its doubt, what lies within half an octave. */
export const confidenceOf = (doubt: number): number => 1 - Math.exp(-TOLERATED / doubt);

/** What a reading is at least, some doubts below what it says. */
export const atLeast = ({ value, doubt }: Doubted, doubts = 1): number => Math.max(0, (1 + value) * 2 ** (-doubts * doubt) - 1);

/** Doubts below a reading that is acted on mildly: of one that is confirmed, of any other. */
export const BELOW = { confirmed: 1, alone: 3 };

/** A reading of grain: what it is, its radius, and what it is at least, which is proposed where it is unsure. */
export interface GrainDamage {
  grain: Doubted;
  size: number;
  least: number;
}

/** A reading that nothing else confirms. */
export const alone = ({ grain, size }: Pick<PlaneReading, 'grain' | 'size'>): GrainDamage => ({
  grain,
  size,
  least: atLeast(grain, BELOW.alone),
});

/** Doubt of what a network was unsure of and something else confirms. */
export const CONFIRMED = 0.25;

/** Octaves of 1 + a value. */
export const octaves = (value: number): number => Math.log2(1 + value);
