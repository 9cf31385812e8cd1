import { describe, expect, it } from 'vitest';
import { ear } from './ear';
import { eyeDepth, grown, inOpening, lipLine, planOf, skinPoint, skull, worn, type Vector } from './head';
import { identity } from './person';
import { LOOK } from './testing';

const who = identity(4, true);
const towards = (x: number, y: number): Vector => {
  const n = Math.hypot(x, y, 0.8);
  return [x / n, y / n, 0.8 / n];
};

describe('a made-up person', () => {
  it('is the same for the same seed, and another for others', () => {
    expect(identity(4, true)).toEqual(who);
    expect(identity(5, true)).not.toEqual(who);
  });

  it('keeps all shares near the middle', () => {
    for (let seed = 0; seed < 200; seed++) {
      const { width, lips, noseLength, skin } = identity(seed, seed % 2 === 0);
      for (const share of [width, lips, noseLength]) expect(Math.abs(share)).toBeLessThan(1.75);
      // Redder than blue, as skin is.
      expect(skin[0]).toBeGreaterThan(skin[2]);
    }
  });
});

describe('a head', () => {
  it('is alike on both sides', () => {
    const p = planOf(who, LOOK),
      z = eyeDepth(who, LOOK);
    for (const [x, y] of [
      [0.3, 0.02],
      [0.15, -0.4],
      [0.5, 0.3],
      [0.2, -0.7],
    ]) {
      const [lx, ly, lz] = skinPoint(who, LOOK, p, z, towards(x, y)),
        [rx, ry, rz] = skinPoint(who, LOOK, p, z, towards(-x, y));
      expect([lx, ly, lz]).toEqual([-rx, ry, rz]);
    }
  });

  it('has its nose in front of all, and eyes that look out of their opening', () => {
    const p = planOf(who, LOOK),
      z = eyeDepth(who, LOOK);
    const front = (x: number, y: number): number => skinPoint(who, LOOK, p, z, towards(x, y))[2];
    expect(front(0, p.noseY)).toBeGreaterThan(front(0, p.mouthY));
    expect(front(0, p.noseY)).toBeGreaterThan(front(0.4, p.noseY) + 0.15);
    expect(inOpening(p, p.eyeX, p.eyeY, 1)).toBeGreaterThan(0);
    expect(inOpening(p, p.eyeX, p.eyeY + 2 * p.openY, 1)).toBeLessThan(0);
    // Behind the eyeball in the opening, before it on the lid.
    const at = (x: number, y: number): number => {
      const r = skull(who, LOOK, towards(x, y));
      return skinPoint(who, LOOK, p, z, towards(x / r, y / r))[2];
    };
    expect(at(p.eyeX, p.eyeY)).toBeLessThan(z + p.eyeRadius);
  });

  it('changes with its years: a child has low eyes and a short face, old lids hang', () => {
    const child = planOf(who, { ...LOOK, age: 5 }),
      adult = planOf(who, LOOK),
      old = planOf(who, { ...LOOK, age: 80 });
    expect(child.eyeY).toBeLessThan(adult.eyeY);
    expect(child.chinY).toBeGreaterThan(adult.chinY);
    expect(old.openY).toBeLessThan(adult.openY);
    expect([grown(1), grown(30), worn(20), worn(90)]).toEqual([0, 1, 0, 1]);
  });

  it('smiles with the corners of its mouth', () => {
    const p = planOf(who, { ...LOOK, smile: 1 });
    expect(lipLine(p, p.mouthX)).toBeGreaterThan(lipLine(p, 0));
  });
});

describe('an ear', () => {
  it('is rooted in the head, stands out of it, and is the mirror of the other', () => {
    const left = ear(who, LOOK, 1),
      right = ear(who, LOOK, -1);
    const above = left.points.map((p) => {
      const n = Math.hypot(...p);
      return n - skull(who, LOOK, p.map((v) => v / n) as Vector);
    });
    expect(Math.min(...above)).toBeLessThan(0);
    expect(Math.max(...above)).toBeGreaterThan(0.1);
    expect(right.points).toEqual(left.points.map(([x, y, z]) => [-x, y, z]));
    // From the brow to the end of the nose.
    const heights = left.points.map(([, y]) => y);
    expect(Math.max(...heights)).toBeGreaterThan(0.05);
    expect(Math.min(...heights)).toBeLessThan(planOf(who, LOOK).noseY + 0.1);
  });
});
