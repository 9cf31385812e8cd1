/** Replicated samples round padded planes; the same figure stands in ../reference/motion.ts. */
export const MARGIN: i32 = 64;

@inline
export function clampI(v: i32, low: i32, high: i32): i32 {
  return v < low ? low : v > high ? high : v;
}

/** The first `count` of four floats, one to three. */
export function storePart(to: usize, v: v128, count: i32): void {
  store<f32>(to, f32x4.extract_lane(v, 0));
  if (count > 1) store<f32>(to + 4, f32x4.extract_lane(v, 1));
  if (count > 2) store<f32>(to + 8, f32x4.extract_lane(v, 2));
}
