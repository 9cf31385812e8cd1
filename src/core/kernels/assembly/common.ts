/** Replicated samples round padded planes; the same figure stands in ../reference/motion.ts. */
export const MARGIN: i32 = 64;

@inline
export function clampI(v: i32, low: i32, high: i32): i32 {
  return v < low ? low : v > high ? high : v;
}
