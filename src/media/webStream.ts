import type { Readable } from 'node:stream';

/**
 * A stream of Node's as responses take it. Whoever stops reading ends the source too, and what it still gave is dropped: Node's own conversion then closes
 * what is closed.
 */
export function webStream(source: Readable): ReadableStream<Uint8Array> {
  const chunks = source[Symbol.asyncIterator]() as AsyncIterator<Uint8Array, undefined>;
  let gone = false;
  return new ReadableStream({
    async pull(controller) {
      try {
        const { done, value } = await chunks.next();
        if (gone) return;
        if (done) controller.close();
        else controller.enqueue(value);
      } catch (error) {
        if (!gone) controller.error(error);
      }
    },
    async cancel() {
      gone = true;
      source.destroy();
      await chunks.return?.();
    },
  });
}
