import { copyPicture, planeRegion, NEUTRAL_CHROMA, type Picture, type Region } from '../picture/picture';
import { cellInput, cellsOf } from './cells';
import { addFolded, fold, SCALE } from './fold';
import { network, type Network } from './model';

/** A strength: one for all, or one for every pixel of the frame part being cleaned. */
export type Strength = number | { region: Region; values: Float32Array };

/** What the network is to take for damage. Zero leaves that kind alone. */
export interface Steering {
  /** Deviation of the grain in codes of 255. */
  grainLuma: Strength;
  grainChroma: Strength;
  /** Quantiser step of a block codec, in codes of 255 on orthonormal transform coefficients. */
  step: Strength;
  /** Deviation of the blur, in pixels. */
  blur: Strength;
}

/** One step's wish to the network. */
export interface CleanRequest {
  steering: Partial<Steering>;
  /** How much of the correction is applied, 0 to 1. */
  share: { luma: number; chroma: number };
}

/**
 * Several wishes as one: what each kind of damage is to be taken for, and the least share of all.
 * Kinds named twice are taken at the stronger.
 */
export function together(requests: CleanRequest[]): { steering: Steering; share: CleanRequest['share'] } {
  const strongest = (kind: keyof Steering): Strength => {
    const named = requests.map((r) => r.steering[kind]).filter((s) => s !== undefined);
    const plane = named.find((s) => typeof s !== 'number');
    return plane ?? Math.max(0, ...(named as number[]));
  };
  return {
    steering: {
      grainLuma: strongest('grainLuma'),
      grainChroma: strongest('grainChroma'),
      step: strongest('step'),
      blur: strongest('blur'),
    },
    share: { luma: Math.min(...requests.map((r) => r.share.luma)), chroma: Math.min(...requests.map((r) => r.share.chroma)) },
  };
}

/** Strengths that stand for 1 in the network's planes, as in `training/samples.py`. */
export const UNITS: Record<keyof Steering, number> = { grainLuma: 32, grainChroma: 32, step: 64, blur: 2 };
const KINDS = ['grainLuma', 'grainChroma', 'step', 'blur'] as const;
const CHANNELS = 16;

/**
 * Removes grain, compression and blur in one pass of the network.
 *
 * @param source the part of the frame that covers `cover` and a border round it.
 * @param cover whole cells.
 * @param share how much of the correction is applied, 0 to 1; for luma, and for chroma.
 * @throws NetworkError when the network cannot be used.
 */
export async function clean(source: Picture, cover: Region, steering: Steering, share: CleanRequest['share']): Promise<Picture> {
  const net = await network('clean');
  const { info } = source;
  const result = copyPicture(source, cover);
  for (const cell of cellsOf(cover, info)) await cleanCell(net, source, cell, steering, result, share);
  return result;
}

async function cleanCell(
  net: Network,
  source: Picture,
  cell: Region,
  steering: Steering,
  result: Picture,
  share: CleanRequest['share'],
): Promise<void> {
  const { info } = source;
  const part = cellInput(cell, info);
  const size = (part.width * part.height) / 4;
  const input = new Float32Array(CHANNELS * size);
  for (let index = 0; index < 3; index++) {
    const plane = source.planes.at(index);
    if (!plane) input.fill(NEUTRAL_CHROMA * SCALE, index * 4 * size, (index + 1) * 4 * size);
    else fold(plane, planeRegion(info, index, source.region), part, input, index * 4 * size, ...shifts(info, index));
  }
  for (const [n, kind] of KINDS.entries()) steer(steering[kind], UNITS[kind], part, input, (12 + n) * size);
  const corrections = await net.run(input, CHANNELS, part.height / 2, part.width / 2);
  for (const [index, plane] of result.planes.entries()) {
    const amount = index ? share.chroma : share.luma;
    if (amount > 0)
      addFolded(corrections, index * 4 * size, part, cell, plane, planeRegion(info, index, result.region), amount, ...shifts(info, index));
  }
}

const shifts = (info: { chromaShiftX: number; chromaShiftY: number }, index: number): [number, number] =>
  index ? [info.chromaShiftX, info.chromaShiftY] : [0, 0];

/** A strength as a plane of half the part's size: means of four pixels. */
function steer(strength: Strength, unit: number, part: Region, out: Float32Array, at: number): void {
  const w = part.width >> 1,
    h = part.height >> 1;
  if (typeof strength === 'number') {
    out.fill(strength / unit, at, at + w * h);
    return;
  }
  const { region, values } = strength;
  const value = (x: number, y: number): number =>
    values[Math.min(region.height - 1, Math.max(0, y - region.y)) * region.width + Math.min(region.width - 1, Math.max(0, x - region.x))];
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const px = part.x + 2 * x,
        py = part.y + 2 * y;
      out[at + y * w + x] = (value(px, py) + value(px + 1, py) + value(px, py + 1) + value(px + 1, py + 1)) / (4 * unit);
    }
  }
}
