import { addFolded, addPlain, fold, SCALE, take } from '../kernels/fold';
import { copyPicture, NEUTRAL_CHROMA, planeRegion, type Picture, type Plane, type Region } from '../picture/picture';
import { cellInput, cellsOf } from './cells';
import { network, type Network } from './model';
import { KINDS, putSteering, type Share, type Steering } from './steering';

/** Frames the network sees: two before, the frame, two after. */
export const TEMPORAL_FRAMES = 5;
/** Planes of one frame: four folded ones of luma, Cb and Cr. */
const PER_FRAME = 6;
const STEERED = TEMPORAL_FRAMES * PER_FRAME;
const FAST = STEERED + KINDS.length;
const CHANNELS = FAST + PER_FRAME;

/** What the network sees beside the frame to clean. */
export interface Moving {
  /** Five whole frames, 4:2:0 or monochrome, the others laid over the middle one by their motion. */
  frames: Plane[][];
  /** The middle frame as the fast choice cleans it. */
  fast: Plane[];
}

/**
 * Removes grain, compression and blur with the help of the neighbouring frames.
 *
 * @param middle the whole frame to clean, 4:2:0 or monochrome.
 * @param cover whole cells.
 * @param share how much of the correction is applied, 0 to 1; for luma, and for chroma.
 * @throws NetworkError when the network cannot be used.
 */
export async function cleanMoving(middle: Picture, moving: Moving, cover: Region, steering: Steering, share: Share): Promise<Picture> {
  const net = await network('temporal');
  const result = copyPicture(middle, cover);
  for (const cell of cellsOf(cover, middle.info)) await cleanCell(net, moving, steering, cell, result, share);
  return result;
}

async function cleanCell(
  net: Network,
  { frames, fast }: Moving,
  steering: Steering,
  cell: Region,
  result: Picture,
  share: Share,
): Promise<void> {
  const { info } = result;
  const part = cellInput(cell, info);
  const half: Region = { x: part.x >> 1, y: part.y >> 1, width: part.width >> 1, height: part.height >> 1 };
  const size = half.width * half.height;
  const input = new Float32Array(CHANNELS * size);
  for (const [n, planes] of frames.entries()) putFrame(planes, part, half, input, n * PER_FRAME * size);
  putSteering(steering, part, input, STEERED * size);
  putFrame(fast, part, half, input, FAST * size);
  const corrections = await net.run(input, CHANNELS, half.height, half.width);
  if (share.luma > 0) addFolded(corrections, 0, { part, cell, into: result.planes[0], origin: result.region }, share.luma);
  if (share.chroma === 0) return;
  for (let index = 1; index < result.planes.length; index++) {
    const origin = planeRegion(info, index, result.region),
      inner = planeRegion(info, index, cell);
    addPlain(corrections, (3 + index) * size, { part: half, cell: inner, into: result.planes[index], origin }, share.chroma);
  }
}

function putFrame(planes: Plane[], part: Region, half: Region, input: Float32Array, at: number): void {
  const origin = { x: 0, y: 0 },
    size = half.width * half.height;
  fold(planes[0], origin, part, input, at);
  for (const c of [1, 2]) {
    const plane = planes.at(c);
    if (plane) take(plane, half, input, at + (3 + c) * size);
    else input.fill(NEUTRAL_CHROMA * SCALE, at + (3 + c) * size, at + (4 + c) * size);
  }
}
