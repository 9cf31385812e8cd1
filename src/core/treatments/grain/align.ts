import { estimateMotions, type Lines } from '../../kernels/motion';
import type { MotionField, MotionOptions } from '../../kernels/reference/motion';
import { newPlane, type Picture, type Plane } from '../../picture/picture';

/** Blocks of 16 x 16 luma samples; the search reaches 28 x 20. */
export const MOTION: MotionOptions = { blockWidth: 16, blockHeight: 16, reachX: 7, reachY: 5, penalty: 6 };

/**
 * Frames laid over another by their motion, block by block.
 *
 * @param current planes of the frame that stays as it is.
 * @param others planes of the frames to move, each of the same sizes.
 * @param shiftX log2 of how much coarser planes 1 and 2 are sideways; `shiftY` downwards.
 */
export function alignedTo(current: Plane[], others: Plane[][], shiftX: number, shiftY: number): Plane[][] {
  const motions = estimateMotions(
    lines(current[0]),
    others.map((planes) => lines(planes[0])),
    MOTION,
  );
  return others.map((planes, n) => planes.map((plane, index) => moved(plane, motions[n], index ? shiftX : 0, index ? shiftY : 0)));
}

/**
 * Planes of a window of five, all laid over the middle one. At a clip's ends frames repeat and have nothing new to say: in
 * their place stand those of the other side once more.
 */
export function alignedWindow(window: Picture[]): Plane[][] {
  const current = window[2];
  const fresh = (i: number): boolean => window[i] !== current && window[i] !== window[i < 2 ? i + 1 : i - 1];
  const order = [0, 1, 2, 3, 4].map((i) =>
    i === 2 || fresh(i) ? i : fresh(4 - i) ? 4 - i : i < 2 && fresh(1) ? 1 : i > 2 && fresh(3) ? 3 : 2,
  );
  const distinct = [...new Set(order)].filter((i) => i !== 2);
  const { chromaShiftX, chromaShiftY } = current.info;
  const moved = alignedTo(
    current.planes,
    distinct.map((i) => window[i].planes),
    chromaShiftX,
    chromaShiftY,
  );
  return order.map((i) => (i === 2 ? current.planes : moved[distinct.indexOf(i)]));
}

export const lines = (plane: Plane): Lines => ({ plane, first: 0, step: 1 });

/** The plane with each block taken from where it was; beyond the frame its edge repeats. */
function moved(plane: Plane, { columns, rows, vectors }: MotionField, shiftX: number, shiftY: number): Plane {
  const { width, height, data } = plane;
  const out = newPlane(width, height);
  const blockWidth = MOTION.blockWidth >> shiftX,
    blockHeight = MOTION.blockHeight >> shiftY;
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const at = 2 * (row * columns + column);
      const dx = Math.round(vectors[at] / (1 << shiftX)),
        dy = Math.round(vectors[at + 1] / (1 << shiftY));
      const left = column * blockWidth,
        right = Math.min(width, left + blockWidth);
      const inside = left - dx >= 0 && right - dx <= width;
      for (let y = row * blockHeight; y < Math.min(height, (row + 1) * blockHeight); y++) {
        const from = Math.min(height - 1, Math.max(0, y - dy)) * width;
        if (inside) out.data.set(data.subarray(from + left - dx, from + right - dx), y * width + left);
        else for (let x = left; x < right; x++) out.data[y * width + x] = data[from + Math.min(width - 1, Math.max(0, x - dx))];
      }
    }
  }
  return out;
}
