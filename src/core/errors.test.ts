import { MessageChannel } from 'node:worker_threads';
import { once } from 'node:events';
import { describe, expect, it } from 'vitest';
import { CodedError, codeOf, errorOf, failureOf, isFailure, isUserError, type Failure } from './errors';

class Torn extends CodedError {
  constructor(message: string, options?: ErrorOptions) {
    super('interrupted', message, options);
  }
}

/** The value as another thread gets it. */
async function sent<T>(value: T): Promise<T> {
  const { port1, port2 } = new MessageChannel();
  const arrived = once(port2, 'message') as Promise<[T]>;
  port1.postMessage(value);
  const [received] = await arrived;
  port1.close();
  return received;
}

describe('errors between threads', () => {
  it('keep their code, words and cause', async () => {
    const failure = await sent(failureOf(new Torn('the decoder was killed', { cause: new Error('SIGKILL') })));
    expect(isFailure(failure)).toBe(true);
    const error = errorOf(failure);
    expect(error.message).toBe('the decoder was killed');
    expect(codeOf(error)).toBe('interrupted');
    expect((error.cause as Error).message).toBe('SIGKILL');
    expect(isUserError(error)).toBe(true);
  });

  it('keep codes of the system, and need none', async () => {
    const full = Object.assign(new Error('no space left on device'), { code: 'ENOSPC' });
    expect(codeOf(errorOf(await sent(failureOf(full))))).toBe('ENOSPC');
    const plain = errorOf(await sent<Failure>(failureOf(new Error('odd'))));
    expect([codeOf(plain), plain.cause, isUserError(plain)]).toEqual([undefined, undefined, false]);
  });

  it('would lose it on their own', async () => {
    expect(codeOf(await sent(new Torn('gone')))).toBeUndefined();
  });

  it('are told from answers', () => {
    for (const answer of [undefined, null, 3, 'failed', { width: 3 }]) expect(isFailure(answer)).toBe(false);
  });
});
