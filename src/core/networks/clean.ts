import { addFolded, fold, SCALE, type Coarser } from '../kernels/fold';
import { copyPicture, planeRegion, NEUTRAL_CHROMA, type Picture, type Region } from '../picture/picture';
import { cellInput, cellsOf } from './cells';
import { network, type Network, type NetworkName } from './model';
import { KINDS, putSteering, type Share, type Steering } from './steering';

/** How many planes a folded picture has. */
const PICTURE = 12;

/** What a network is told beside the picture. */
export interface Told {
  /** How many planes it gets, at half the picture's size. */
  planes: number;
  /** Writes them for a part of the frame, one after the other from `at` on. */
  put: (part: Region, out: Float32Array, at: number) => void;
}

/**
 * Corrects a picture by a network that answers with corrections to its folded planes.
 *
 * @param source the part of the frame that covers `cover` and a border round it.
 * @param cover whole cells.
 * @param share how much of the correction is applied, 0 to 1; for luma, and for chroma.
 * @throws NetworkError when the network cannot be used.
 */
export async function corrected(name: NetworkName, source: Picture, cover: Region, share: Share, told: Told): Promise<Picture> {
  const net = await network(name);
  const result = copyPicture(source, cover);
  for (const cell of cellsOf(cover, source.info)) await correctCell(net, source, cell, told, result, share);
  return result;
}

/** Removes grain, compression and blur in one pass of the network; see `corrected`. */
export const clean = (source: Picture, cover: Region, steering: Steering, share: Share): Promise<Picture> =>
  corrected('clean', source, cover, share, { planes: KINDS.length, put: (part, out, at) => putSteering(steering, part, out, at) });

async function correctCell(net: Network, source: Picture, cell: Region, told: Told, result: Picture, share: Share): Promise<void> {
  const { info } = source;
  const part = cellInput(cell, info);
  const size = (part.width * part.height) / 4;
  const channels = PICTURE + told.planes;
  const input = new Float32Array(channels * size);
  for (let index = 0; index < 3; index++) {
    const plane = source.planes.at(index);
    if (!plane) input.fill(NEUTRAL_CHROMA * SCALE, index * 4 * size, (index + 1) * 4 * size);
    else fold(plane, planeRegion(info, index, source.region), part, input, index * 4 * size, coarser(info, index));
  }
  told.put(part, input, PICTURE * size);
  const corrections = await net.run(input, channels, part.height / 2, part.width / 2);
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
