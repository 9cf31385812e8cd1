import type { Plane } from '../picture/picture';
import { searchMotion, type Pyramid } from './motion';
import { prepareFields } from './preparedFields';
import type { MotionField, MotionOptions } from './reference/motion';
import { kernels } from './wasm';

export interface FieldOptions {
  /** Follow motion over the five fields: looked for, or found before, in luma for instance. */
  motion: boolean | MotionField;
  /** Follow edges within the field. */
  edges: boolean;
}

/** Blocks of 16 x 8 field samples; vectors in samples a frame. */
export const FIELD_MOTION: MotionOptions = { blockWidth: 16, blockHeight: 8, reachX: 7, reachY: 3, penalty: 4 };

/**
 * Where each block of a frame goes over its five fields; undefined for uneven heights, whose lines make no pairs.
 *
 * @param frames and the rest as of `fillFields`.
 */
export function findFieldMotion(frames: [Plane, Plane, Plane], topFirst: boolean, use = ''): MotionField | undefined {
  if (frames[1].height % 2) return undefined;
  const [before, now, after] = prepareFields(frames, topFirst, true, use).map((frame) => frame.search?.pyramid as Pyramid);
  return searchMotion(now, before, after, FIELD_MOTION);
}

/** The two blocks' width that the kernel's eight samples at a time need at least. */
const LEAST_WIDTH = 8;

/**
 * Luma's motion for planes that are `shiftX` and `shiftY` times halved against it: vectors of the same blocks in their coarser
 * samples. Blocks that would be narrower than the kernel's step are joined, and follow the first of them.
 */
export function coarserMotion({ columns, rows, vectors }: MotionField, shiftX: number, shiftY: number): MotionField {
  const joined = Math.max(1, LEAST_WIDTH / (FIELD_MOTION.blockWidth >> shiftX));
  const across = Math.ceil(columns / joined);
  const out = new Int16Array(2 * across * rows);
  for (let i = 0; i < across * rows; i++) {
    const from = 2 * (Math.floor(i / across) * columns + (i % across) * joined);
    out[2 * i] = Math.round(vectors[from] / (1 << shiftX));
    // Whole lines of a field, which come in twos.
    out[2 * i + 1] = 2 * Math.round(vectors[from + 1] / (2 << shiftY));
  }
  return { columns: across, rows, vectors: out };
}

/**
 * The two full frames at the times of an interlaced frame's first and second field. Each keeps its own lines as they
 * are and fills the missing ones from five fields (see `reference/deinterlace.ts` for the method).
 *
 * @param frames the frame before, the frame, the frame after, of one size; at a clip's ends the frame itself.
 * @param topFirst whether the lines 0, 2, 4, ... come first.
 * @param shifts how often the plane is halved against the one its motion was found in.
 * @param use tells apart streams of frames that are worked on in turn, such as the planes of one picture.
 */
export function fillFields(
  frames: [Plane, Plane, Plane],
  topFirst: boolean,
  options: FieldOptions,
  use = '',
  shifts = { x: 0, y: 0 },
): [Plane, Plane] {
  const { width, height } = frames[1];
  const motion = options.motion === true ? findFieldMotion(frames, topFirst, use) : options.motion || undefined;
  const [before, now, after] = prepareFields(frames, topFirst, options.motion === true || options.edges, use);
  const { run, arena } = kernels();
  const take = (at: number): Plane => ({ width, height, data: arena.take16(at, width * height) });
  return arena.scope(() => {
    const vectors = motion ? arena.put16(motion.vectors) : 0;
    const [f0, f1, f2, f3, f4, f5] = [before, now, after].flatMap((frame) => frame.fields);
    const out = [arena.reserve(width * height * 2), arena.reserve(width * height * 2)];
    run.deinterlaceFrame({
      f0,
      f1,
      f2,
      f3,
      f4,
      f5,
      frame: now.frame,
      width,
      height,
      parity: topFirst ? 0 : 1,
      vectors,
      columns: motion?.columns ?? 1,
      rows: motion?.rows ?? 1,
      blockWidth: Math.max(LEAST_WIDTH, FIELD_MOTION.blockWidth >> shifts.x),
      blockHeight: FIELD_MOTION.blockHeight >> shifts.y,
      bytes0: options.edges && now.search ? now.search.pyramid.at[0] : 0,
      bytes1: options.edges && now.search ? now.search.secondBytes : 0,
      out0: out[0],
      out1: out[1],
    });
    return [take(out[0]), take(out[1])];
  });
}
