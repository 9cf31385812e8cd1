import { describe, expect, it } from 'vitest';
import type { Picture } from '../picture/picture';
import { newPlane } from '../picture/picture';
import { noisyPlane, picture, streamInfo, texturedPlane } from '../testing/pictures';
import { gathered } from './gathered';
import { layStraight } from './lay';

const info = streamInfo({ width: 160, height: 140 });
const SIDE = 64;
/** Deviation of the noise in codes of 255. */
const NOISE = 8;
const AT = { a: 1, b: 0, x: 40, y: 36 };

const seen = (n: number, dx = 0): Picture => ({
  ...picture(info),
  planes: [noisyPlane(texturedPlane(160, 140, dx), NOISE * 219, n), ...picture(info).planes.slice(1)],
});
const truth = layStraight({ ...picture(info), planes: [texturedPlane(160, 140), ...picture(info).planes.slice(1)] }, AT, SIDE);

/** Deviation from the truth in the middle of the frame, in codes of 255. */
function off({ planes: [luma] }: { planes: Float32Array[] }): number {
  let sum = 0,
    count = 0;
  for (let y = 14; y < SIDE - 14; y++)
    for (let x = 14; x < SIDE - 14; x++, count++) sum += (luma[y * SIDE + x] - truth.planes[0][y * SIDE + x]) ** 2;
  return 255 * Math.sqrt(sum / count);
}

describe('what several frames say of a face', () => {
  const own = layStraight(seen(0), AT, SIDE);

  it('has less noise, and tells how much is left', () => {
    const { face, left } = gathered(
      own,
      [1, 2, 3, 4].map((n) => ({ picture: seen(n), at: AT })),
      NOISE,
    );
    expect(off(face)).toBeLessThan(0.6 * off(own));
    expect(left).toBeGreaterThan(0.42);
    expect(left).toBeLessThan(0.65);
  });

  it('is laid on the face though the meshes are a pixel off, and though frames flicker', () => {
    const beside = [1, 2, 3, 4].map((n) => {
      const moved = seen(n);
      // Lighter and darker by turns.
      moved.planes[0].data.forEach((v, i) => (moved.planes[0].data[i] = v + (n % 2 ? 2200 : -2200)));
      return { picture: moved, at: { ...AT, x: AT.x + 1.2, y: AT.y - 0.7 } };
    });
    expect(off(gathered(own, beside, NOISE).face)).toBeLessThan(0.7 * off(own));
  });

  it('leaves out what is not the same', () => {
    const unlike: Picture = {
      ...picture(info),
      planes: [noisyPlane(newPlane(160, 140, 30000), 9000, 4), ...picture(info).planes.slice(1)],
    };
    const { face, left } = gathered(own, [{ picture: unlike, at: AT }], NOISE);
    expect(left).toBeGreaterThan(0.9);
    expect(Math.abs(off(face) - off(own))).toBeLessThan(0.15 * off(own));
  });
});
