/** Candidates a test strip has. */
export const MIN_CANDIDATES = 2,
  MAX_CANDIDATES = 4;
