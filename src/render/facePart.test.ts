import { describe, expect, it } from 'vitest';
import type { LaidPicture } from '../core';
import { FRAME } from '../core/faces/frame';
import { SAME_PLACE, scaling } from '../shared/maps/place';
import { FACE_WIDTHS, facePart } from './facePart';

const WIDTH = 600,
  HEIGHT = 500;

/** A mesh whose landmarks lie as in a frame of that side there, turned about its middle by so many radians. */
function mesh(left: number, top: number, side: number, turn = 0): Float32Array {
  const at = Array.from({ length: 468 }, (_, n) => [0.5 + 0.34 * Math.cos(n), 0.53 + 0.42 * Math.sin(n)]);
  [[33, 133, 159, 145], [362, 263, 386, 374], [1], [61], [291]].forEach((points, n) => {
    for (const p of points) at[p] = [FRAME[2 * n], FRAME[2 * n + 1]];
  });
  return Float32Array.from(
    at.flatMap(([u, v]) => {
      const [x, y] = [side * (u - 0.5), side * (v - 0.5)];
      return [left + side / 2 + x * Math.cos(turn) - y * Math.sin(turn), top + side / 2 + x * Math.sin(turn) + y * Math.cos(turn)];
    }),
  );
}

/** Red tells how far to the right a pixel lies, green how far down. */
const picture: LaidPicture = {
  ...{ width: WIDTH, height: HEIGHT },
  data: Uint16Array.from({ length: 3 * WIDTH * HEIGHT }, (_, i) => {
    const p = Math.floor(i / 3);
    return [100 * (p % WIDTH), 100 * Math.floor(p / WIDTH), 0][i % 3];
  }),
};
/** Where the picture shows what a part does at one of its mesh's points, against where the mesh lies in the picture. */
function off(part: ReturnType<typeof facePart>, own: Float32Array, point: number, scale = 1): number {
  const x = Math.round(part.mesh[2 * point]),
    y = Math.round(part.mesh[2 * point + 1]);
  const i = 3 * (y * part.width + x);
  return Math.hypot(part.data[i] / 100 - scale * own[2 * point], part.data[i + 1] / 100 - scale * own[2 * point + 1]);
}

describe('what is round a face', () => {
  it.each([0, 0.5, -1.2])('is upright, with its mesh, of a face turned by %f radians', (turn) => {
    const own = mesh(200, 150, 180, turn);
    const part = facePart(picture, own, { to: SAME_PLACE, most: FACE_WIDTHS.most });
    const [leftEye, rightEye] = [33, 362].map((n) => part.mesh[2 * n + 1]);
    expect(Math.abs(leftEye - rightEye)).toBeLessThan(1);
    for (const n of [33, 362, 1, 61, 291]) expect(off(part, own, n)).toBeLessThan(1.5);
  });

  it('is no finer than it is shown, and no larger than is wanted', () => {
    const own = mesh(150, 100, 300);
    const whole = facePart(picture, own, { to: SAME_PLACE, most: FACE_WIDTHS.most }),
      small = facePart(picture, own, { to: SAME_PLACE, most: 64 });
    expect(whole.width).toBeGreaterThan(200);
    expect(whole.width).toBeLessThan(310);
    expect(small.width).toBe(64);
    expect(off(small, own, 1)).toBeLessThan(8);
  });

  it('is found where the plan has put it', () => {
    // What is shown is twice as large as what the mesh was found in.
    const own = mesh(80, 60, 100);
    const part = facePart(picture, own, { to: scaling(2, 2), most: FACE_WIDTHS.most });
    for (const n of [33, 362, 1]) expect(off(part, own, n, 2)).toBeLessThan(2);
  });
});
