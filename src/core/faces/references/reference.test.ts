import { describe, expect, it } from 'vitest';
import { normalStream } from '../../picture/random';
import { FRAME } from '../frame';
import type { Mesh } from '../mesh';
import { inLight, lightOf } from './light';
import { knownFace, referenceFor } from './reference';
import { smoothed } from '../smoothed';

const SIDE = 96;
/** A picture three times as large as the frame, in which the face lies to the right and below. */
const LARGE = 360,
  LEFT = 40,
  TOP = 24,
  SCALE = 3;

/** Features of a face, soft as paint, with texture that only a sharp picture shows, by place in the frame. */
function level(u: number, v: number): number {
  const spot = (x: number, y: number, width: number, height: number): number =>
    Math.exp(-(((u - x) / width) ** 2) - ((v - y) / height) ** 2);
  const eyes = [FRAME[0], FRAME[2]].reduce(
    (sum, x) => sum + spot(x, FRAME[1], 0.05, 0.022) + 0.6 * spot(x, FRAME[1] - 0.08, 0.07, 0.014),
    0,
  );
  const mouth = spot(0.5, 0.745, 0.1, 0.018) + 0.5 * spot(0.5, 0.61, 0.04, 0.02);
  return 0.62 - 0.35 * eyes - 0.3 * mouth + 0.008 * Math.sin(70 * u + 20 * Math.sin(9 * v));
}

/** Points over a face, five of them its landmarks as a mesh has them, moved by what a place is moved by. */
function mesh(at: (u: number, v: number) => [number, number]): Mesh {
  const points = Array.from({ length: 468 }, (_, n): [number, number] => {
    const reach = Math.sqrt((n + 0.5) / 468),
      angle = 2.39996 * n;
    return [0.5 + 0.36 * reach * Math.cos(angle), 0.53 + 0.44 * reach * Math.sin(angle)];
  });
  [[33, 133, 159, 145], [362, 263, 386, 374], [1], [61], [291]].forEach((list, n) => {
    for (const p of list) points[p] = [FRAME[2 * n], FRAME[2 * n + 1]];
  });
  return Float32Array.from(points.flatMap(([u, v]) => at(u, v)));
}

/** How a face turns from one picture to the other: what is in its middle moves furthest. */
const turned = (u: number, v: number): number => 0.04 * Math.max(0, 1 - Math.hypot((u - 0.5) / 0.4, (v - 0.53) / 0.5));

const plane = (of: (u: number, v: number) => number): Float32Array =>
  Float32Array.from({ length: SIDE * SIDE }, (_, i) => of(((i % SIDE) + 0.5) / SIDE, (Math.floor(i / SIDE) + 0.5) / SIDE));
const truth = plane(level);
const soft = ((normal) => smoothed(truth, SIDE, 2.2).map((v) => v + 0.01 * normal()))(normalStream(4));
const outline = mesh((u, v) => [u, v]);

/** A larger picture of the drawn face: turned, lit from the side and darker. */
const reference = {
  picture: {
    width: LARGE,
    height: LARGE,
    data: Uint16Array.from({ length: 3 * LARGE * LARGE }, (_, i) => {
      const p = Math.floor(i / 3);
      const u = ((p % LARGE) + 0.5 - LEFT) / (SCALE * SIDE),
        v = (Math.floor(p / LARGE) + 0.5 - TOP) / (SCALE * SIDE);
      return Math.round(65535 * Math.min(1, Math.max(0, level(u - turned(u, v), v) * (0.6 + 0.25 * u))));
    }),
  },
  mesh: mesh((u, v) => {
    // Where a point goes whose own move is told by where it comes to.
    let x = u;
    for (let n = 0; n < 20; n++) x = u + turned(x, v);
    return [SCALE * SIDE * x + LEFT, SCALE * SIDE * v + TOP];
  }),
};

const FACE = { left: 24, top: 22, right: 72, bottom: 80 },
  EYE = { left: 26, top: 34, right: 40, bottom: 45 };

/** Mean squares of what lies between two planes, in a part of the frame. */
function off(a: Float32Array, b: Float32Array, { left, top, right, bottom } = FACE): number {
  let sum = 0,
    count = 0;
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      sum += (a[y * SIDE + x] - b[y * SIDE + x]) ** 2;
      count++;
    }
  return sum / count;
}

describe('a reference', () => {
  const { luma: laid, agrees } = referenceFor(soft, SIDE, outline, 2, reference);

  it('is laid on the face as it is turned and lit there', () => {
    expect(off(laid, truth)).toBeLessThan(0.5 * off(soft, truth));
  });

  it('agrees where it shows the same, and is refused where it shows somebody else', () => {
    expect(agrees).toBeGreaterThan(0.5);
    const { data } = reference.picture;
    const upsideDown = {
      ...reference,
      picture: { ...reference.picture, data: data.map((_, i) => data[3 * (LARGE * LARGE - 1 - Math.floor(i / 3))]) },
    };
    const other = referenceFor(soft, SIDE, outline, 2, upsideDown);
    expect(other.agrees).toBe(0);
    expect(other.luma).toEqual(soft);
  });

  it('says nothing beyond the mesh', () => {
    for (const [x, y] of [
      [3, 3],
      [92, 4],
      [5, 90],
      [48, 1],
    ])
      expect(laid[y * SIDE + x]).toBe(soft[y * SIDE + x]);
  });

  it('is laid where its own mesh lies a little wrongly by the slopes of both', () => {
    const wrong = { ...reference, mesh: reference.mesh.map((v, i) => v + (i % 2 ? -5 : 6)) };
    expect(off(referenceFor(soft, SIDE, outline, 2, wrong).luma, truth, EYE)).toBeLessThan(0.65 * off(soft, truth, EYE));
  });

  it('is shown to the guard straight', () => {
    const { picture, at } = knownFace(reference);
    expect(picture.data[3 * (100 * LARGE + 100)]).toBe(reference.picture.data[3 * (100 * LARGE + 100)] >> 8);
    expect(at.a).toBeCloseTo(SCALE * SIDE, -1);
  });
});

describe('light', () => {
  it('of a face is given to another, with the strength of its forms', () => {
    const dim = truth.map((v, i) => 0.1 + 0.35 * v + 0.1 * ((i % SIDE) / SIDE));
    const lit = inLight(dim, lightOf(truth, SIDE), SIDE);
    expect(off(lit, truth)).toBeLessThan(0.1 * off(dim, truth));
  });

  it('leaves what is in it already', () => {
    const same = inLight(truth, lightOf(truth, SIDE), SIDE);
    for (let i = 0; i < same.length; i += 17) expect(same[i]).toBeCloseTo(truth[i], 5);
  });
});
