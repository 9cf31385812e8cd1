import { estimateMotions, movedBlocks } from '../kernels/motion';
import type { MotionOptions } from '../kernels/reference/motion';
import { newPlane, type Plane } from '../picture/picture';
import { measureGrain, type GrainReading } from './grain';

/** Blocks of 16 x 16 samples; the search reaches 28 x 20. */
const MOTION: MotionOptions = { blockWidth: 16, blockHeight: 16, reachX: 7, reachY: 5, penalty: 6 };
/** Zero of a plane of differences. */
const MIDDLE = 32768;
/** Share of the samples that repeat to the last bit from which nothing can be said: drawings held for two frames, lost frames. */
const REPEATED = 0.9;

/** Lines of one field as a plane of its own. */
export function fieldOf({ width, height, data }: Plane, parity: 0 | 1): Plane {
  const lines = (height - parity + 1) >> 1;
  const out = newPlane(width, lines);
  for (let y = 0; y < lines; y++) out.data.set(data.subarray((2 * y + parity) * width, (2 * y + parity + 1) * width), y * width);
  return out;
}

/**
 * Grain of moving images, from what differs between a frame and the one before it along its motion: texture goes along, grain
 * does not. What motion cannot explain only adds, and is passed over with the busier blocks.
 *
 * @param planes of two consecutive frames, or of one field of each.
 * @returns undefined where the second repeats the first.
 */
export function measureMovingGrain(before: Plane, now: Plane): GrainReading | undefined {
  const lines = (plane: Plane) => ({ plane, first: 0 as const, step: 1 as const });
  const [motion] = estimateMotions(lines(now), [lines(before)], MOTION);
  const laid = movedBlocks(before, motion, MOTION, 0, 0);
  const apart = newPlane(now.width, now.height);
  let repeated = 0;
  for (let i = 0; i < apart.data.length; i++) {
    const d = now.data[i] - laid.data[i];
    if (d === 0) repeated++;
    apart.data[i] = Math.min(65535, Math.max(0, MIDDLE + d));
  }
  if (repeated > REPEATED * apart.data.length) return undefined;
  const { sigma, size } = measureGrain(apart, false, now);
  // Both frames bring grain of their own.
  return { sigma: sigma / Math.SQRT2, size };
}
