import type { Axis } from '../kernels/reference/taps';
import type { Plane, Region } from '../picture/picture';
import { UNITS } from './steering';
import { cellInput, cellsOf } from './cells';
import { enlargedCubic } from '../kernels/enlarge';
import { addUnfolded, fold, SCALE } from '../kernels/fold';
import { network, type Content } from './model';

/** What the enlarging network is to take for damage, see `Steering`. */
export interface EnlargeSteering {
  grain: number;
  step: number;
  blur: number;
}

const CHANNELS = 7;
/** The networks' 1 on a scale where 65535 is 1. */
const CODE = 1 / SCALE / 65535;

/**
 * Luma at twice or four times its size: the Keys cubic (1981) and the network's correction to it.
 *
 * @param source the plane's samples from `region` on, which cover `cover` and a border round it.
 * @param cover whole cells of the frame; `frame` its size.
 * @returns codes 0 to 1, cover.width * factor by cover.height * factor.
 * @throws NetworkError when the network cannot be used.
 */
export async function enlargeLuma(
  source: Plane,
  region: Region,
  cover: Region,
  frame: { width: number; height: number },
  factor: 2 | 4,
  content: Content,
  steering: EnlargeSteering,
): Promise<Float32Array> {
  const net = await network(`enlarge-${content}-${factor}x`);
  const wanted: Region = { x: cover.x * factor, y: cover.y * factor, width: cover.width * factor, height: cover.height * factor };
  const axis = (size: number): Axis => ({ from: size, to: size * factor, siting: 0.5 });
  const out = enlargedCubic(source, region, wanted, { x: axis(frame.width), y: axis(frame.height) });
  for (const cell of cellsOf(cover, frame)) {
    const part = cellInput(cell, frame);
    const w = part.width / 2,
      h = part.height / 2,
      size = w * h;
    const input = new Float32Array(CHANNELS * size);
    fold(source, region, part, input, 0);
    input.fill(steering.grain / UNITS.grainLuma, 4 * size, 5 * size);
    input.fill(steering.step / UNITS.step, 5 * size, 6 * size);
    input.fill(steering.blur / UNITS.blur, 6 * size);
    const corrections = await net.run(input, CHANNELS, h, w);
    const first = { x: (cell.x - part.x) * factor, y: (cell.y - part.y) * factor };
    // Folded by twice the factor.
    addUnfolded(corrections, 2 * factor, { width: w, height: h }, first, CODE, out, wanted.width, {
      x: (cell.x - cover.x) * factor,
      y: (cell.y - cover.y) * factor,
      width: cell.width * factor,
      height: cell.height * factor,
    });
  }
  return out;
}
