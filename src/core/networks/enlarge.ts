import { codesOf, enlargedCubic } from '../kernels/enlarge';
import { addUnfolded, fold, SCALE } from '../kernels/fold';
import type { Axis } from '../kernels/reference/taps';
import type { Plane, Region } from '../picture/picture';
import { cellInput, cellsOf } from './cells';
import { network, type Enlarging, type Network } from './model';
import { UNITS } from './steering';

/** What the enlarging network is to take for damage, see `Steering`. */
export interface EnlargeSteering {
  grain: number;
  step: number;
  blur: number;
}

interface Size {
  width: number;
  height: number;
}

/** Samples of a plane from `region` of a frame on. */
export interface FramePart {
  plane: Plane;
  region: Region;
  frame: Size;
}

const CHANNELS = 7;
/** Corrections are folded by twice the factor. */
const FOLDS = 4;
/** The networks' 1 on a scale where 65535 is 1. */
const CODE = 1 / SCALE / 65535;
/** What the second of two passes is told: the softness the first leaves, as in `training/tasks.py`. */
const SECOND: EnlargeSteering = { grain: 0, step: 0, blur: 0.25 };

/**
 * Luma at twice or four times its size: the Keys cubic (1981) and the network's correction to it, once or twice over.
 *
 * @param part covers `cover` and a border round it.
 * @param cover whole cells of the frame.
 * @returns codes 0 to 1, cover.width * factor by cover.height * factor.
 * @throws NetworkError when the network cannot be used.
 */
export async function enlargeLuma(
  part: FramePart,
  cover: Region,
  factor: 2 | 4,
  enlarging: Enlarging,
  steering: EnlargeSteering,
): Promise<Float32Array> {
  const net = await network(`enlarge-${enlarging}`);
  const out = new Float32Array(cover.width * cover.height * factor ** 2);
  for (const cell of cellsOf(cover, part.frame)) {
    const made =
      factor === 2 ? await doubled(net, part, cell, cellInput(cell, part.frame), steering) : await doubledTwice(net, part, cell, steering);
    const width = cell.width * factor,
      at = (cell.y - cover.y) * factor * cover.width * factor + (cell.x - cover.x) * factor;
    for (let y = 0; y < cell.height * factor; y++) out.set(made.subarray(y * width, (y + 1) * width), at + y * cover.width * factor);
  }
  return out;
}

/** Part `wanted` of a frame doubled, codes 0 to 1; the network reads the part `read`, as `cellInput` gives it. */
async function doubled(
  net: Network,
  { plane, region, frame }: FramePart,
  wanted: Region,
  read: Region,
  steering: EnlargeSteering,
): Promise<Float32Array> {
  const w = read.width / 2,
    h = read.height / 2,
    size = w * h;
  const input = new Float32Array(CHANNELS * size);
  fold(plane, region, read, input, 0);
  input.fill(steering.grain / UNITS.grainLuma, 4 * size, 5 * size);
  input.fill(steering.step / UNITS.step, 5 * size, 6 * size);
  input.fill(steering.blur / UNITS.blur, 6 * size);
  const corrections = await net.run(input, CHANNELS, h, w);
  const axis = (length: number): Axis => ({ from: length, to: 2 * length, siting: 0.5 });
  const out = enlargedCubic(plane, region, twice(wanted), { x: axis(frame.width), y: axis(frame.height) });
  const first = { x: 2 * (wanted.x - read.x), y: 2 * (wanted.y - read.y) };
  const part = { ...twice(wanted), x: 0, y: 0 };
  addUnfolded({ planes: corrections, folds: FOLDS, size: { width: w, height: h } }, first, CODE, { data: out, stride: part.width, part });
  return out;
}

/** The cell and its border doubled, and of that the cell. */
async function doubledTwice(net: Network, part: FramePart, cell: Region, steering: EnlargeSteering): Promise<Float32Array> {
  const read = cellInput(cell, part.frame),
    { x, y } = read;
  const seen: Region = { x, y, width: Math.min(read.width, part.frame.width - x), height: Math.min(read.height, part.frame.height - y) };
  const once = await doubled(net, part, seen, read, steering);
  const finer: FramePart = {
    plane: codesOf(once, 2 * seen.width, 2 * seen.height),
    region: twice(seen),
    frame: { width: 2 * part.frame.width, height: 2 * part.frame.height },
  };
  return doubled(net, finer, twice(cell), cellInput(twice(cell), finer.frame), SECOND);
}

const twice = ({ x, y, width, height }: Region): Region => ({ x: 2 * x, y: 2 * y, width: 2 * width, height: 2 * height });
