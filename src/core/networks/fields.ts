import { addLines, foldLines } from '../kernels/fold';
import { copyPlane, type Plane, type Region } from '../picture/picture';
import { cellInput, cellsOf } from './cells';
import { network, type Network } from './model';

const PLANES = 6;

/**
 * Betters the missing lines of a field's frame.
 *
 * @param frames woven frames before, at and after; at a clip's ends the frame itself. Full size, even height.
 * @param fast the fast choice's frame for this field: own lines as they are, missing ones filled.
 * @param second whether the field is the second one of its frame.
 * @param topFirst whether the lines 0, 2, 4, ... come first.
 * @param cover whole cells of the frame.
 * @returns the cover's part of the frame.
 * @throws NetworkError when the network cannot be used.
 */
export async function fillBest(
  frames: [Plane, Plane, Plane],
  fast: Plane,
  second: boolean,
  topFirst: boolean,
  cover: Region,
): Promise<Plane> {
  const net = await network('fields');
  const own = second === topFirst ? 1 : 0;
  const result = copyPlane(fast, cover.x, cover.y, cover.width, cover.height);
  const job: FieldJob = { frames, fast, second, own };
  for (const cell of cellsOf(cover, fast)) await betterCell(net, job, cell, result, cover);
  return result;
}

/** A field that is filled up, and what it is filled from. */
interface FieldJob {
  frames: [Plane, Plane, Plane];
  fast: Plane;
  /** Whether it is the later field of its frame. */
  second: boolean;
  /** Parity of the lines it has. */
  own: 0 | 1;
}

/** Betters one cell; `result` holds the frame from `origin` on. */
async function betterCell(
  net: Network,
  { frames, fast, second, own }: FieldJob,
  cell: Region,
  result: Plane,
  origin: Region,
): Promise<void> {
  const [before, now, after] = frames;
  const part = cellInput(cell, fast);
  const lines = part.height / 2,
    w = part.width / 2,
    size = lines * w;
  const input = new Float32Array(2 * PLANES * size);
  // A bottom field is turned upside down: the network always sees a missing line after its own.
  const missing = own ? 0 : 1;
  const from: [Plane, 0 | 1][] = [
    [now, own],
    [fast, missing],
    [second ? now : before, missing],
    [second ? after : now, missing],
    [before, own],
    [after, own],
  ];
  for (const [n, [plane, parity]] of from.entries()) foldLines(plane, parity, part, own === 1, input, 2 * n * size);
  const corrections = await net.run(input, 2 * PLANES, lines, w);
  addLines(corrections, missing, { part, cell, into: result, origin }, own === 1);
}
