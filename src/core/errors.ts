/**
 * What kind of thing went wrong. All but `cancelled` are said in words meant for the restorer; after `interrupted` the work may be tried
 * again.
 */
export type ErrorCode = 'plan' | 'media' | 'network' | 'queue' | 'mark' | 'people' | 'interrupted' | 'cancelled';

/** An error told apart by its code, which survives the way between threads and processes; classes and names do not. */
export class CodedError extends Error {
  constructor(
    readonly code: string,
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options);
    this.name = new.target.name;
  }
}

/** An error's code: one of ours, or the system's, such as ENOSPC. */
export const codeOf = (error: unknown): string | undefined => (error as { code?: string } | null | undefined)?.code;

/** Codes of errors whose words are meant for the restorer as they are. */
const USER_ERRORS: ReadonlySet<string | undefined> = new Set<ErrorCode>([
  'plan',
  'media',
  'network',
  'queue',
  'mark',
  'people',
  'interrupted',
]);

/** Whether an error's words are meant for the restorer as they are. */
export const isUserError = (error: unknown): boolean => USER_ERRORS.has(codeOf(error));

/** What went wrong in a thread, as it is sent to whoever asked. */
export interface Failure {
  failed: { code?: string; message: string; cause?: string };
}

export function failureOf(error: unknown): Failure {
  const { message, cause } = error as Error;
  return {
    failed: { code: codeOf(error), message, ...(cause !== undefined && { cause: cause instanceof Error ? cause.message : 'unknown' }) },
  };
}

export const isFailure = (answer: unknown): answer is Failure => typeof answer === 'object' && answer !== null && 'failed' in answer;

/** The error a failure tells of, with its code. */
export function errorOf({ failed: { code, message, cause } }: Failure): Error {
  const options = cause === undefined ? undefined : { cause: new Error(cause) };
  return code === undefined ? new Error(message, options) : new CodedError(code, message, options);
}
