import { newPlane, type Plane } from '../picture/picture';
import { estimateMotion, type Lines } from './motion';
import { MARGIN, type MotionOptions } from './reference/motion';
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
 */
export function fillFields(frames: [Plane, Plane, Plane], topFirst: boolean, options: FieldOptions): [Plane, Plane] {
  const { run, arena } = kernels();
  const { width, height } = frames[1];
  const lines = height >> 1;
  const parities: [0 | 1, 0 | 1] = topFirst ? [0, 1] : [1, 0];
  return arena.scope(() => {
    // A frame given twice goes over once.
    const addresses = new Map<Plane, number>();
    for (const frame of frames) if (!addresses.has(frame)) addresses.set(frame, arena.put16(frame.data));
    const address = (n: number): number => addresses.get(frames[n]) as number;
    const first = (n: number): Lines => ({ plane: frames[n], first: parities[0], step: 2, address: address(n) });
    const motion = options.motion && height % 2 === 0 ? estimateMotion(first(1), first(0), first(2), FIELD_MOTION) : undefined;
    const vectors = motion ? arena.put16(motion.vectors) : 0;
    const fields = [0, 1, 2, 3, 4, 5].map((n) => {
      const to = arena.reserve((width + 2 * MARGIN) * (lines + 2 * MARGIN) * 2);
      run.padField(address(n >> 1), width, lines, parities[n & 1], to);
      return to;
    });
    const scratch = arena.reserve(8 * (width + 48));
    const bytes = options.edges ? arena.reserve((width + 2 * MARGIN) * (lines + 2 * MARGIN)) : 0;
    const fill = (n: 0 | 1): Plane => {
      const target = arena.put16(frames[1].data);
      if (bytes) run.bytesFromPlane(address(1), width, lines, parities[n], 2, bytes);
      run.deinterlaceField(
        fields[n],
        fields[n + 1],
        fields[n + 2],
        fields[n + 3],
        fields[n + 4],
        width,
        lines,
        parities[n],
        vectors,
        motion?.columns ?? 1,
        motion?.rows ?? 1,
        FIELD_MOTION.blockWidth,
        FIELD_MOTION.blockHeight,
        bytes,
        target,
        scratch,
      );
      const out = newPlane(width, height);
      out.data.set(arena.view16(target, width * height));
      return out;
    };
    return [fill(0), fill(1)];
  });
}
