/** Logarithms of odds as bytes: steps for a natural logarithm, and what stands for even odds. */
export const ODDS_STEP = 16,
  EVEN_ODDS = 128;

export const asOdds = (logarithm: number): number => Math.min(255, Math.max(0, Math.round(EVEN_ODDS + ODDS_STEP * logarithm)));

/** The natural logarithm of the odds that a probability is. */
export const logOdds = (probability: number): number => Math.log(probability / (1 - probability));
