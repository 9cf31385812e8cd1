import type { Mesh } from './mesh';
import { ovalMask } from './oval';

/** How much of a correction the areas of a face get, 0 to 1. */
export interface AreaShares {
  eyes: number;
  mouth: number;
  /** All that is neither. */
  skin: number;
}

/** Points of the mesh round each eye and its brow, and round the mouth. */
const EYES = [
  [70, 63, 105, 66, 107, 226, 31, 228, 229, 230, 231, 232, 233, 244],
  [300, 293, 334, 296, 336, 446, 261, 448, 449, 450, 451, 452, 453, 464],
];
const MOUTH = [57, 287, 164, 18, 165, 391, 43, 273];
/** Part of the frame over which an area passes into the next. */
const FADE = 0.03;

/**
 * How much each place of a face's frame gets.
 *
 * @param mesh 468 points in parts of the frame.
 */
export function areaMask(mesh: Mesh, side: number, { eyes, mouth, skin }: AreaShares): Float32Array {
  const within = (points: readonly number[]): Float32Array =>
    ovalMask(Float32Array.from(points.flatMap((n) => [mesh[2 * n], mesh[2 * n + 1]])), side, FADE);
  const [left, right] = EYES.map(within);
  const lips = within(MOUTH);
  return lips.map((inMouth, i) => {
    const inEyes = Math.max(left[i], right[i]);
    const rest = Math.max(0, 1 - inEyes - inMouth);
    return (inEyes * eyes + inMouth * mouth + rest * skin) / (inEyes + inMouth + rest);
  });
}
