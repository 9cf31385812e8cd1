import { open } from 'node:fs/promises';
import type { Rational } from '../shared/maps/rational';

/** Bytes of a file's head that are searched; ours have their tracks at the start. */
const HEAD = 1 << 16;

/** Elements on the way (RFC 9559, section 5.1). */
const SEGMENT = 0x18538067,
  TRACKS = 0x1654ae6b,
  TRACK = 0xae,
  TRACK_TYPE = 0x83,
  DEFAULT_DURATION = 0x23e383,
  VIDEO = 1;

interface Element {
  id: number;
  /** Where its content begins and ends. */
  start: number;
  end: number;
}

/** Elements between two places, as far as they lie in the head; sizes that are not known reach to its end (RFC 8794, section 6). */
function* elements(head: Buffer, from: number, to: number): Generator<Element> {
  for (let at = from; at < to;) {
    const idLength = Math.clz32(head[at]) - 23,
      sizeAt = at + idLength;
    if (idLength > 4 || sizeAt >= to) return;
    const sizeLength = Math.clz32(head[sizeAt]) - 23,
      start = sizeAt + sizeLength;
    if (sizeLength > 8 || start > to) return;
    let size = head[sizeAt] & (0xff >> sizeLength),
      unknown = size === 0xff >> sizeLength;
    for (let i = sizeAt + 1; i < start; i++) {
      size = size * 256 + head[i];
      unknown &&= head[i] === 0xff;
    }
    const end = unknown ? to : Math.min(to, start + size);
    yield { id: head.readUIntBE(at, idLength), start, end };
    at = end;
  }
}

const inside = (head: Buffer, { start, end }: Element, id: number): Element | undefined =>
  [...elements(head, start, end)].find((element) => element.id === id);

/**
 * Writes how long a frame of the video lasts, in whole nanoseconds, where a Matroska file says it: ffmpeg's own word, when it copies, is
 * reckoned from the container it reads and is off where the rate has large terms.
 *
 * @returns whether it says so now: not where the file has no place for it.
 */
export async function sayRate(path: string, rate: Rational): Promise<boolean> {
  const file = await open(path, 'r+');
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0);
    const head = buffer.subarray(0, bytesRead);
    const segment = inside(head, { id: 0, start: 0, end: head.length }, SEGMENT);
    const tracks = segment && inside(head, segment, TRACKS);
    for (const track of tracks ? elements(head, tracks.start, tracks.end) : []) {
      const kind = track.id === TRACK ? inside(head, track, TRACK_TYPE) : undefined;
      const duration = kind && head[kind.start] === VIDEO ? inside(head, track, DEFAULT_DURATION) : undefined;
      if (!duration) continue;
      const length = duration.end - duration.start,
        nanoseconds = Math.round((1e9 * rate.den) / rate.num);
      if (nanoseconds >= 2 ** (8 * length)) return false;
      const bytes = Buffer.alloc(8);
      bytes.writeBigUInt64BE(BigInt(nanoseconds));
      await file.write(bytes, 8 - length, length, duration.start);
      return true;
    }
    return false;
  } finally {
    await file.close();
  }
}
