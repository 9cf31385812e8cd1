/** Stands where all kinds of a union were told apart: a new kind does not compile until it is dealt with. @throws always. */
export function assertNever(value: never): never {
  throw new Error(`unexpected ${JSON.stringify(value)}`);
}
