import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { strands, type Strand } from './hair';
import { hairLayer, type Camera, type Head, type Lamp } from './hairLayer';
import { HairVolume } from './hairLight';
import { skull, type Vector } from './head';
import { identity, type Look } from './person';
import { LOOK } from './testing';
import { before, moved, placed, put, turned } from './place';
import { gridSolid } from './solid';

const who = identity(4, true);
const above = (look: Look, p: Vector): number => {
  const n = Math.hypot(...p);
  return n - skull(who, look, p.map((v) => v / n) as Vector);
};

describe('strands', () => {
  it.each(['short', 'fringe', 'bob', 'long', 'bun'] as const)('are rooted in the skin and lie outside the head: %s', (hair) => {
    const look = { ...LOOK, hair };
    const made = strands(who, look, 800);
    expect(made.length).toBeGreaterThanOrEqual(800);
    let beneath = 0,
      all = 0;
    for (const { points } of made.slice(0, 800)) {
      expect(above(look, points[0])).toBeCloseTo(0, 6);
      for (const p of points) beneath += Number(above(look, p) < -0.03);
      all += points.length;
    }
    // Where a lock draws together, some of its inner strands lie beneath the skin, unseen.
    expect(beneath / all).toBeLessThan(0.05);
  });

  it('leave the crown of a bald head bare', () => {
    const crown = (hair: Look['hair']): number => strands(who, { ...LOOK, hair }, 2000).filter(({ points }) => points[0][1] > 0.85).length;
    expect(crown('short')).toBeGreaterThan(100);
    expect(crown('bald')).toBe(0);
  });

  it('lose their colour with the years', () => {
    const white = (age: number): number => strands(who, { ...LOOK, age }, 500).reduce((sum, s) => sum + s.white, 0) / 500;
    expect(white(25)).toBe(0);
    expect(white(80)).toBeGreaterThan(0.4);
  });
});

describe('places', () => {
  it('turn as POV-Ray does', () => {
    const near = (p: Vector, q: Vector): void => p.forEach((v, i) => expect(v).toBeCloseTo(q[i], 10));
    near(put(turned('y', 90), [0, 0, 1]), [1, 0, 0]);
    near(put(turned('x', 90), [0, 1, 0]), [0, 0, 1]);
    near(put(turned('z', 90), [1, 0, 0]), [0, 1, 0]);
    near(put(placed(turned('y', 90), moved([1, 2, 3], 2)), [0, 0, 1]), [3, 2, 3]);
    near(before(placed(turned('y', 90), moved([1, 2, 3], 2)), [1, 0, 0]), [0, 0, 1]);
  });
});

const wall = (z: number): Strand[] =>
  Array.from({ length: 3000 }, (_, i) => ({
    points: Array.from({ length: 10 }, (_k, k): Vector => [((i % 60) - 30) / 30, k / 10 + Math.floor(i / 60) / 50 - 1, z]),
    shade: 1,
    white: 0,
  }));

describe('light in hair', () => {
  it('comes from its own side, and less of it through hair', () => {
    const volume = new HairVolume(wall(0), () => false);
    const lit = volume.lit([0, 0, 1]);
    expect(lit([0, 0, 1])).toBeGreaterThan(0.95);
    expect(lit([0, 0, -1])).toBeLessThan(0.75);
    // The mean of both sides is half of it.
    expect(volume.lit([0, 0, 1], [0, 0, -1])([0, 0, 1])).toBeCloseTo((lit([0, 0, 1]) + volume.lit([0, 0, -1])([0, 0, 1])) / 2, 5);
  });

  it('does not pass what is solid', () => {
    expect(new HairVolume([], ([, , z]) => z > 0).lit([0, 0, 1])([0, 0, -1])).toBeLessThan(0.2);
  });
});

describe('a layer of hair', () => {
  const camera: Camera = { from: [0, 0, 10], to: [0, 0, 0], angle: 30 };
  const lamps: Lamp[] = [{ at: [0, 5, 10], colour: [1, 1, 1] }];
  const head: Head = { who, look: LOOK, place: moved([0, 0, 0]), strands: wall(0) };
  const board = gridSolid(
    Array.from({ length: 9 }, (_, i): Vector => [(i % 3) * 2 - 4, Math.floor(i / 3) * 2 - 2, 1]),
    3,
    3,
  );
  const alpha = async (surfaces: Parameters<typeof hairLayer>[2]): Promise<(x: number, y: number) => number> => {
    const { data } = await sharp(await hairLayer(camera, lamps, surfaces, [head], 60, 60))
      .raw()
      .toBuffer({ resolveWithObject: true });
    return (x, y) => data[4 * (y * 60 + x) + 3];
  };

  it('covers what is behind it and nothing beside it', async () => {
    const at = await alpha([]);
    expect(at(30, 30)).toBeGreaterThan(200);
    expect(at(3, 30)).toBe(0);
  });

  it('is hidden by what stands before it; the picture is mirrored as a camera sees it', async () => {
    // The board covers what is to the left of the person, which is to the right in the picture of a camera before it.
    const at = await alpha([{ solid: board, place: moved([0, 0, 0]), head }]);
    const halves = [at(24, 30), at(36, 30)];
    expect(Math.max(...halves)).toBeGreaterThan(200);
    expect(Math.min(...halves)).toBeLessThan(120);
  });
});
