import { addFolded, fold, SCALE, type Coarser } from '../kernels/fold';
import { copyPicture, planeRegion, NEUTRAL_CHROMA, type Picture, type Region } from '../picture/picture';
import { cellInput, cellsOf } from './cells';
import { network, type Network } from './model';
import { KINDS, putSteering, type Share, type Steering } from './steering';

const PICTURE = 12;
const CHANNELS = PICTURE + KINDS.length;

/**
 * Removes grain, compression and blur in one pass of the network.
 *
 * @param source the part of the frame that covers `cover` and a border round it.
 * @param cover whole cells.
 * @param share how much of the correction is applied, 0 to 1; for luma, and for chroma.
 * @param name of the network; `halftone` takes a screen away, whose period stands in the place of the grain's size.
 * @throws NetworkError when the network cannot be used.
 */
export async function clean(
  source: Picture,
  cover: Region,
  steering: Steering,
  share: Share,
  name: 'clean' | 'halftone' = 'clean',
): Promise<Picture> {
  const net = await network(name);
  const { info } = source;
  const result = copyPicture(source, cover);
  for (const cell of cellsOf(cover, info)) await cleanCell(net, source, cell, steering, result, share);
  return result;
}

async function cleanCell(net: Network, source: Picture, cell: Region, steering: Steering, result: Picture, share: Share): Promise<void> {
  const { info } = source;
  const part = cellInput(cell, info);
  const size = (part.width * part.height) / 4;
  const input = new Float32Array(CHANNELS * size);
  for (let index = 0; index < 3; index++) {
    const plane = source.planes.at(index);
    if (!plane) input.fill(NEUTRAL_CHROMA * SCALE, index * 4 * size, (index + 1) * 4 * size);
    else fold(plane, planeRegion(info, index, source.region), part, input, index * 4 * size, coarser(info, index));
  }
  putSteering(steering, part, input, PICTURE * size);
  const corrections = await net.run(input, CHANNELS, part.height / 2, part.width / 2);
  for (const [index, plane] of result.planes.entries()) {
    const amount = index ? share.chroma : share.luma;
    if (amount > 0)
      addFolded(
        corrections,
        index * 4 * size,
        { part, cell, into: plane, origin: planeRegion(info, index, result.region) },
        amount,
        coarser(info, index),
      );
  }
}

const coarser = (info: { chromaShiftX: number; chromaShiftY: number }, index: number): Coarser =>
  index ? { x: info.chromaShiftX, y: info.chromaShiftY } : { x: 0, y: 0 };
