import { createHash } from 'node:crypto';
import { LRUCache } from 'lru-cache';

/** Bytes that are remembered of each kind of work in a thread. */
const MAX_BYTES = 96 << 20;

/** All that is remembered in this thread. */
const stores: { clear(): void }[] = [];

/** Lets go of all that is remembered in this thread. */
export const forgetAll = (): void => stores.forEach((store) => store.clear());

/**
 * Work that is done once for the same samples, whichever picture, tile or setting asks for it: results are kept under the checksum of all
 * that goes in, so they cannot differ from those worked anew.
 *
 * @param bytes that a result takes, about.
 */
export function remembered<T>(bytes: number): (parts: Iterable<ArrayBufferView | string>, work: () => Promise<T>) => Promise<T> {
  const kept = new LRUCache<string, Promise<T>>({ max: Math.ceil(MAX_BYTES / bytes) });
  stores.push(kept);
  return (parts, work) => {
    const hash = createHash('sha1');
    for (const part of parts) hash.update(typeof part === 'string' ? part : new Uint8Array(part.buffer, part.byteOffset, part.byteLength));
    const key = hash.digest('base64');
    const known = kept.get(key);
    if (known) return known;
    const made = work();
    kept.set(key, made);
    // What failed may do so for want of a file that is there the next time.
    made.catch(() => kept.delete(key));
    return made;
  };
}
