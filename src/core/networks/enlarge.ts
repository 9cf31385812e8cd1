import type { Plane, Region } from '../picture/picture';
import { UNITS } from './clean';
import { cellInput, cellsOf } from './cells';
import { fold, SCALE } from './fold';
import { keysTaps } from './keys';
import { network, type Content, type Network } from './model';

/** What the enlarging network is to take for damage, see `Steering`. */
export interface EnlargeSteering {
  grain: number;
  step: number;
  blur: number;
}

const CHANNELS = 7;

/**
 * Luma at twice or four times its size: the Keys cubic and the network's correction to it.
 *
 * @param source the plane's samples from `region` on, which cover `cover` and a border round it.
 * @param cover whole cells of the frame; `frame` its size.
 * @returns codes 0 to 65535 as floats, cover.width * factor by cover.height * factor.
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
  const width = cover.width * factor;
  const out = new Float32Array(width * cover.height * factor);
  for (const cell of cellsOf(cover, frame)) await enlargeCell(net, source, region, cell, cover, frame, factor, steering, out, width);
  return out;
}

async function enlargeCell(
  net: Network,
  source: Plane,
  region: Region,
  cell: Region,
  cover: Region,
  frame: { width: number; height: number },
  factor: 2 | 4,
  steering: EnlargeSteering,
  out: Float32Array,
  stride: number,
): Promise<void> {
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
  const taps = keysTaps(factor);
  // Columns first, for the lines of the cell and those the rows' taps reach.
  const above = 2,
    lines = cell.height + 5,
    wide = cell.width * factor;
  const between = new Float32Array(wide * lines);
  for (let j = 0; j < lines; j++) {
    const line = Math.min(source.height - 1, Math.max(0, Math.min(frame.height - 1, cell.y - above + j) - region.y)) * source.width;
    for (let x = 0; x < cell.width; x++) {
      for (let phase = 0; phase < factor; phase++) {
        let sum = 0;
        for (let t = 0; t < 6; t++) {
          const px = Math.min(frame.width - 1, Math.max(0, cell.x + x + t - 2)) - region.x;
          sum += taps[phase * 6 + t] * source.data[line + px];
        }
        between[j * wide + x * factor + phase] = sum;
      }
    }
  }
  const folds = 2 * factor;
  for (let y = 0; y < cell.height * factor; y++) {
    const phase = y % factor,
      j = (y - phase) / factor;
    const oy = y + (cell.y - part.y) * factor;
    const to = ((cell.y - cover.y) * factor + y) * stride + (cell.x - cover.x) * factor;
    for (let x = 0; x < wide; x++) {
      let sum = 0;
      for (let t = 0; t < 6; t++) sum += taps[phase * 6 + t] * between[(j + t) * wide + x];
      const ox = x + (cell.x - part.x) * factor;
      const plane = (oy % folds) * folds + (ox % folds);
      const c = corrections[plane * size + Math.floor(oy / folds) * w + Math.floor(ox / folds)];
      out[to + x] = sum + c / SCALE;
    }
  }
}
