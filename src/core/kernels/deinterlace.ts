import type { Plane } from '../picture/picture';
import { searchMotion, type Pyramid } from './motion';
import { prepareFields } from './preparedFields';
import type { MotionOptions } from './reference/motion';
import { kernels } from './wasm';

export interface FieldOptions {
  /** Follow motion over the five fields. */
  motion: boolean;
  /** Follow edges within the field. */
  edges: boolean;
}

/** Blocks of 16 x 8 field samples; vectors in samples a frame. */
export const FIELD_MOTION: MotionOptions = { blockWidth: 16, blockHeight: 8, reachX: 7, reachY: 3, penalty: 4 };

/**
 * The two full frames at the times of an interlaced frame's first and second field. Each keeps its own lines as they
 * are and fills the missing ones from five fields (see `reference/deinterlace.ts` for the method).
 *
 * @param frames the frame before, the frame, the frame after, of one size; at a clip's ends the frame itself.
 * @param topFirst whether the lines 0, 2, 4, ... come first.
 * @param use tells apart streams of frames that are worked on in turn, such as the planes of one picture.
 */
export function fillFields(frames: [Plane, Plane, Plane], topFirst: boolean, options: FieldOptions, use = ''): [Plane, Plane] {
  const { width, height } = frames[1];
  const [before, now, after] = prepareFields(frames, topFirst, options.motion || options.edges, use);
  const { run, arena } = kernels();
  const take = (at: number): Plane => ({ width, height, data: arena.take16(at, width * height) });
  return arena.scope(() => {
    const pyramids = options.motion && height % 2 === 0 ? [now, before, after].map((frame) => frame.search?.pyramid as Pyramid) : undefined;
    const motion = pyramids && searchMotion(pyramids[0], pyramids[1], pyramids[2], FIELD_MOTION);
    const vectors = motion ? arena.put16(motion.vectors) : 0;
    const [f0, f1, f2, f3, f4, f5] = [before, now, after].flatMap((frame) => frame.fields);
    const out = [arena.reserve(width * height * 2), arena.reserve(width * height * 2)];
    run.deinterlaceFrame(
      f0,
      f1,
      f2,
      f3,
      f4,
      f5,
      now.frame,
      width,
      height,
      topFirst ? 0 : 1,
      vectors,
      motion?.columns ?? 1,
      motion?.rows ?? 1,
      FIELD_MOTION.blockWidth,
      FIELD_MOTION.blockHeight,
      options.edges && now.search ? now.search.pyramid.at[0] : 0,
      options.edges && now.search ? now.search.secondBytes : 0,
      out[0],
      out[1],
    );
    return [take(out[0]), take(out[1])];
  });
}
