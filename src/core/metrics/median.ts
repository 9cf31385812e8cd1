/** The middle value, of an even number the higher of the two; 0 of none. */
export function median(values: ArrayLike<number>): number {
  return Float64Array.from(values).sort()[values.length >> 1] ?? 0;
}
