/** An exact number: a whole number over one above 0. */
export interface Rational {
  num: number;
  den: number;
}

/** Lowest terms. */
export function reduceRational(value: Rational): Rational {
  let a = Math.abs(value.num);
  let b = Math.abs(value.den);
  while (b) [a, b] = [b, a % b];
  return a === 0 ? { num: 0, den: 1 } : { num: value.num / a, den: value.den / a };
}

export const ratio = (value: Rational): number => value.num / value.den;
