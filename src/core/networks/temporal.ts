import { copyPicture, NEUTRAL_CHROMA, planeRegion, wholeRegion, type Picture, type Plane, type Region } from '../picture/picture';
import { cellInput, cellsOf } from './cells';
import { addFolded, fold, SCALE, toCode, take } from './fold';
import { network, type Network } from './model';
import { UNITS } from './clean';

/** Frames the network sees: two before, the frame, two after. */
export const TEMPORAL_FRAMES = 5;
const PER_FRAME = 6;
const CHANNELS = TEMPORAL_FRAMES * PER_FRAME + 2;

/**
 * Removes grain with the help of the neighbouring frames.
 *
 * @param frames five whole frames, 4:2:0 or monochrome, the others laid over the middle one by their motion; where a clip
 *   ends, those of the other side once more.
 * @param grain deviations in codes of 255.
 * @param cover whole cells.
 * @param share how much of the correction is applied, 0 to 1.
 * @throws NetworkError when the network cannot be used.
 */
export async function cleanMoving(
  frames: Plane[][],
  middle: Picture,
  grain: { luma: number; chroma: number },
  cover: Region,
  share: number,
): Promise<Picture> {
  const net = await network('temporal');
  const { info } = middle;
  const result = copyPicture(middle, cover);
  for (const cell of cellsOf(cover, wholeRegion(info))) await cleanCell(net, frames, grain, cell, result, share);
  return result;
}

async function cleanCell(
  net: Network,
  frames: Plane[][],
  grain: { luma: number; chroma: number },
  cell: Region,
  result: Picture,
  share: number,
): Promise<void> {
  const { info } = result;
  const part = cellInput(cell, info);
  const half: Region = { x: part.x >> 1, y: part.y >> 1, width: part.width >> 1, height: part.height >> 1 };
  const size = half.width * half.height;
  const origin = { x: 0, y: 0 };
  const input = new Float32Array(CHANNELS * size);
  for (const [n, planes] of frames.entries()) {
    const at = n * PER_FRAME * size;
    fold(planes[0], origin, part, input, at);
    for (const c of [1, 2]) {
      const plane = planes.at(c);
      if (plane) take(plane, origin, half, input, at + (3 + c) * size);
      else input.fill(NEUTRAL_CHROMA * SCALE, at + (3 + c) * size, at + (4 + c) * size);
    }
  }
  input.fill(grain.luma / UNITS.grainLuma, (CHANNELS - 2) * size, (CHANNELS - 1) * size);
  input.fill(grain.chroma / UNITS.grainChroma, (CHANNELS - 1) * size);
  const corrections = await net.run(input, CHANNELS, half.height, half.width);
  addFolded(corrections, 0, part, cell, result.planes[0], result.region, grain.luma > 0 ? share : 0);
  if (grain.chroma > 0)
    for (const [n, plane] of result.planes.slice(1).entries()) {
      const region = planeRegion(info, n + 1, result.region),
        inner = planeRegion(info, n + 1, cell);
      addPlain(corrections, (4 + n) * size, half, inner, plane, region, share);
    }
}

/** Adds corrections that have the plane's own raster. */
function addPlain(corrections: Float32Array, at: number, part: Region, cell: Region, into: Plane, origin: Region, share: number): void {
  for (let y = cell.y; y < cell.y + cell.height; y++) {
    for (let x = cell.x; x < cell.x + cell.width; x++) {
      const index = (y - origin.y) * into.width + x - origin.x;
      into.data[index] = toCode(into.data[index] + (corrections[at + (y - part.y) * part.width + x - part.x] * share) / SCALE);
    }
  }
}
