import { describe, expect, it } from 'vitest';
import { psnr } from '../metrics/metrics';
import { newPlane, type Plane } from '../picture/picture';
import { noisyPlane } from '../testing/pictures';
import { cutRings } from './rings';

const SIZE = { width: 300, height: 260 };
const all = { x: 0, y: 0, ...SIZE };
const clean = noisyPlane(shapes(), 260, 5);

/** Discs with soft edges on ground that grows lighter: no waves of its own. */
function shapes(): Plane {
  const plane = newPlane(SIZE.width, SIZE.height);
  const discs = [
    [80, 70, 44, 9000],
    [190, 150, 62, -8000],
    [250, 40, 25, 12000],
    [60, 210, 30, 6000],
  ];
  plane.data.forEach((_, i) => {
    const x = i % SIZE.width,
      y = Math.floor(i / SIZE.width);
    const inside = discs.reduce((sum, [cx, cy, r, height]) => sum + height / (1 + Math.exp((Math.hypot(x - cx, y - cy) - r) / 1.5)), 0);
    plane.data[i] = 26000 + 30 * x + 12 * y + inside;
  });
  return plane;
}

/** A plane with rings round a place outside it, which stand closer the farther out (their squared radii grow evenly). */
function ringed(plane: Plane, swing: number): Plane {
  const out = newPlane(plane.width, plane.height);
  plane.data.forEach((v, i) => {
    const x = i % plane.width,
      y = Math.floor(i / plane.width);
    out.data[i] = v + swing * Math.cos(((x + 130) ** 2 + (y - 100) ** 2) / 860);
  });
  return out;
}

describe("Newton's rings", () => {
  const worn = ringed(clean, 1600);

  it('are taken off, and the picture stays', () => {
    const made = cutRings(worn, all, all, 12, 1);
    expect(psnr(made, clean, 65535, 16)).toBeGreaterThan(psnr(worn, clean, 65535, 16) + 10);
  });

  it('are left where the amount is nought', () => {
    cutRings(worn, all, all, 12, 0).data.forEach((v, i) => expect(Math.abs(v - worn.data[i])).toBeLessThanOrEqual(1));
  });

  it('are not seen in a picture that has none', () => {
    expect(psnr(cutRings(clean, all, all, 12, 1), clean, 65535, 16)).toBeGreaterThan(55);
  });

  it('are cut from a part as from the whole', () => {
    const part = { x: 71, y: 90, width: 50, height: 40 };
    const whole = cutRings(worn, all, all, 12, 1);
    cutRings(worn, all, part, 12, 1).data.forEach((v, i) => expect(v).toBe(whole.data[(90 + Math.floor(i / 50)) * 300 + 71 + (i % 50)]));
  });
});
