import { copyPlane, type Plane, type Region } from '../picture/picture';
import { cellInput, cellsOf } from './cells';
import { SCALE, toCode } from './fold';
import { network, type Network } from './model';

const PLANES = 6;
/** A field is folded by 2 lines and 4 columns, so that a frame's 4 lines and 4 columns are one position of the network. */
const DOWN = 2,
  ACROSS = 4;
const FOLDED = DOWN * ACROSS;
/** As cells.ts says, wider: this network's coarsest positions stand for 16 pixels. */
const FIELD_BORDER = 32,
  MULTIPLE = 16;

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
  for (const cell of cellsOf(cover, fast)) await betterCell(net, frames, fast, second, own, cell, cover, result);
  return result;
}

async function betterCell(
  net: Network,
  [before, now, after]: [Plane, Plane, Plane],
  fast: Plane,
  second: boolean,
  own: 0 | 1,
  cell: Region,
  cover: Region,
  result: Plane,
): Promise<void> {
  const part = cellInput(cell, fast, FIELD_BORDER, MULTIPLE);
  const lines = part.height / 2,
    h = lines / DOWN,
    w = part.width / ACROSS,
    size = h * w;
  const input = new Float32Array(PLANES * FOLDED * size);
  // A bottom field is turned upside down: the network always sees a missing line after its own.
  const missing = 1 - own;
  const from: [Plane, number][] = [
    [now, own],
    [fast, missing],
    [second ? now : before, missing],
    [second ? after : now, missing],
    [before, own],
    [after, own],
  ];
  for (const [n, [plane, parity]] of from.entries()) takeLines(plane, parity, part, own === 1, input, n * FOLDED * size);
  const corrections = await net.run(input, PLANES * FOLDED, h, w);
  for (let i = 0; i < lines; i++) {
    const y = part.y + 2 * i + missing;
    if (y < cell.y || y >= cell.y + cell.height) continue;
    const line = own === 1 ? lines - 1 - i : i;
    const row = (line % DOWN) * ACROSS * size + Math.floor(line / DOWN) * w;
    const to = (y - cover.y) * cover.width - cover.x;
    for (let x = cell.x; x < cell.x + cell.width; x++) {
      const px = x - part.x;
      const c = corrections[row + (px % ACROSS) * size + Math.floor(px / ACROSS)];
      result.data[to + x] = toCode(result.data[to + x] + c / SCALE);
    }
  }
}

/** Every other line of a part, folded. Lines and columns beyond the frame repeat its edge. */
function takeLines(plane: Plane, parity: number, part: Region, upsideDown: boolean, out: Float32Array, at: number): void {
  const { data, width, height } = plane;
  const lines = part.height / 2,
    w = part.width / ACROSS,
    size = (lines / DOWN) * w;
  for (let i = 0; i < lines; i++) {
    const line = Math.min(height - 2 + parity, part.y + 2 * i + parity) * width;
    const turned = upsideDown ? lines - 1 - i : i;
    const row = at + (turned % DOWN) * ACROSS * size + Math.floor(turned / DOWN) * w;
    for (let x = 0; x < w; x++) {
      const px = part.x + ACROSS * x;
      for (let k = 0; k < ACROSS; k++) out[row + k * size + x] = data[line + Math.min(width - 1, px + k)] * SCALE;
    }
  }
}
