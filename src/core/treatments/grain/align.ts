import { estimateMotions, movedBlocks, type Lines } from '../../kernels/motion';
import type { MotionField, MotionOptions } from '../../kernels/reference/motion';
import type { Picture, Plane, Region } from '../../picture/picture';

/** Blocks of 16 x 16 luma samples; the search reaches 28 x 20. */
export const MOTION: MotionOptions = { blockWidth: 16, blockHeight: 16, reachX: 7, reachY: 5, penalty: 6 };

/** A frame's neighbours that have something to say, and where each of its blocks is found in them. */
export interface Neighbours {
  pictures: Picture[];
  motions: MotionField[];
}

/**
 * The neighbours of a window's middle picture. At a clip's ends frames repeat and have nothing new to say: those are left
 * out.
 *
 * @param window an odd number of pictures.
 * @param levels of blocks that stand still, below 1: they are not looked for elsewhere.
 */
export function neighboursOf(window: Picture[], levels?: Float32Array): Neighbours {
  const middle = (window.length - 1) / 2;
  const current = window[middle];
  const pictures = window.filter((p, i) => i !== middle && window.indexOf(p) === i && p !== current);
  const motions = motionsBetween(
    current.planes[0],
    pictures.map((p) => p.planes[0]),
  );
  return { pictures, motions: levels ? motions.map((field) => stilled(field, levels)) : motions };
}

const stilled = (field: MotionField, levels: Float32Array): MotionField => ({
  ...field,
  vectors: field.vectors.map((v, i) => (levels[i >> 1] < 1 ? 0 : v)),
});

interface Searched {
  others: Plane[];
  motions: MotionField[];
}

/** Motions of planes that are still in use: another setting of a step asks for the same again. */
const searched = new WeakMap<Plane, Searched>();

function motionsBetween(current: Plane, others: Plane[]): MotionField[] {
  const known = searched.get(current);
  if (known?.others.length === others.length && known.others.every((plane, i) => plane === others[i])) return known.motions;
  const motions = estimateMotions(lines(current), others.map(lines), MOTION);
  searched.set(current, { others, motions });
  return motions;
}

/** What is known of each motion block of a frame, for the blocks of a part of it that begins and ends with whole blocks. */
export function levelsIn(levels: Float32Array, part: Region, frame: { width: number }): Float32Array {
  const columns = Math.ceil(frame.width / MOTION.blockWidth);
  const left = part.x / MOTION.blockWidth,
    top = part.y / MOTION.blockHeight;
  const across = Math.ceil(part.width / MOTION.blockWidth),
    down = Math.ceil(part.height / MOTION.blockHeight);
  return Float32Array.from({ length: across * down }, (_, i) => levels[(top + Math.floor(i / across)) * columns + left + (i % across)]);
}

/** The motion of a part of the frame that begins and ends with whole blocks, or at the frame's edge. */
export function motionIn({ columns, vectors }: MotionField, part: Region): MotionField {
  const left = part.x / MOTION.blockWidth,
    top = part.y / MOTION.blockHeight;
  const own = { columns: Math.ceil(part.width / MOTION.blockWidth), rows: Math.ceil(part.height / MOTION.blockHeight) };
  const out = new Int16Array(2 * own.columns * own.rows);
  for (let row = 0; row < own.rows; row++) {
    const from = 2 * ((top + row) * columns + left);
    out.set(vectors.subarray(from, from + 2 * own.columns), 2 * row * own.columns);
  }
  return { ...own, vectors: out };
}

/**
 * Planes of a window of five, all laid over the middle one by their motion, block by block. In the place of frames that
 * have nothing new to say stand those of the other side once more.
 */
export function alignedWindow(window: Picture[], { pictures, motions }: Neighbours): Plane[][] {
  const current = window[2];
  const fresh = (i: number): boolean => window[i] !== current && window[i] !== window[i < 2 ? i + 1 : i - 1];
  const order = [0, 1, 2, 3, 4].map((i) =>
    i === 2 || fresh(i) ? i : fresh(4 - i) ? 4 - i : i < 2 && fresh(1) ? 1 : i > 2 && fresh(3) ? 3 : 2,
  );
  const { chromaShiftX, chromaShiftY } = current.info;
  const laid = pictures.map((p, n) =>
    p.planes.map((plane, index) => movedBlocks(plane, motions[n], MOTION, index ? chromaShiftX : 0, index ? chromaShiftY : 0)),
  );
  return order.map((i) => (i === 2 ? current.planes : laid[pictures.indexOf(window[i])]));
}

const lines = (plane: Plane): Lines => ({ plane, first: 0, step: 1 });
