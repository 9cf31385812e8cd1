import { describe, expect, it } from 'vitest';
import { newPlane, type Plane } from '../picture/picture';
import { noisyPlane, texturedPlane } from '../testing/pictures';
import { judgeFields } from './fields';
import { LIKELY } from './report';

/** Moments of a moving pattern. */
const moments = (count: number, speed = 3, height = 480): Plane[] =>
  Array.from({ length: count }, (_, t) => noisyPlane(texturedPlane(160, height, speed * t, t), 200, t));

function weave(top: Plane, bottom: Plane): Plane {
  const out = { ...top, data: top.data.slice() };
  for (let y = 1; y < top.height; y += 2) out.data.set(bottom.data.subarray(y * top.width, (y + 1) * top.width), y * top.width);
  return out;
}

describe('judgeFields', () => {
  it('tells interlaced frames with either field first', () => {
    const m = moments(22);
    const top = Array.from({ length: 11 }, (_, n) => weave(m[2 * n], m[2 * n + 1])),
      bottom = Array.from({ length: 11 }, (_, n) => weave(m[2 * n + 1], m[2 * n]));
    expect(judgeFields([top])).toMatchObject({ scan: 'interlaced', order: 'top-first' });
    expect(judgeFields([bottom])).toMatchObject({ scan: 'interlaced', order: 'bottom-first' });
    expect(judgeFields([top]).confidence).toBeGreaterThan(0.9);
  });

  it('tells progressive frames', () => {
    expect(judgeFields([moments(11)])).toMatchObject({ scan: 'progressive', combed: 0 });
  });

  it('does not take zigzag texture that moves for fields', () => {
    // Leaves: detail of single lines, half of it new in each frame.
    const leafy = moments(11, 1).map((p, t) => noisyPlane(noisyPlane(p, 3000, 99), 3000, t + 50));
    expect(judgeFields([leafy]).scan).not.toBe('interlaced');
  });

  it('is not sure of fields in a codec or at a height that has none', () => {
    const fields = (height: number): Plane[] => {
      const m = moments(22, 3, height);
      return Array.from({ length: 11 }, (_, n) => weave(m[2 * n], m[2 * n + 1]));
    };
    expect(judgeFields([fields(480)], false)).toMatchObject({ scan: 'interlaced' });
    expect(judgeFields([fields(480)], false).confidence).toBeLessThan(LIKELY);
    expect(judgeFields([fields(240)]).confidence).toBeLessThan(LIKELY);
    // Its file says so too.
    expect(judgeFields([fields(240)], true, true).confidence).toBeGreaterThan(LIKELY);
  });

  it('tells film with 3:2 pulldown', () => {
    const film = moments(10, 4);
    // Fields of frames A B C D as A A, B B, B C, C D, D D.
    const cycle = (a: number): [number, number][] => [
      [a, a],
      [a + 1, a + 1],
      [a + 1, a + 2],
      [a + 2, a + 3],
      [a + 3, a + 3],
    ];
    const frames = [...cycle(0), ...cycle(4)].map(([t, b]) => weave(film[t], film[b]));
    expect(judgeFields([frames]).scan).toBe('telecined');
  });

  it('tells drawings held for two frames of film', () => {
    const drawn = moments(10, 4);
    // Each drawing lasts five fields: A A, A A, A B, B B, B B.
    const cycle = (a: number): [number, number][] => [
      [a, a],
      [a, a],
      [a, a + 1],
      [a + 1, a + 1],
      [a + 1, a + 1],
    ];
    const frames = [0, 2, 4].flatMap(cycle).map(([t, b]) => weave(drawn[t], drawn[b]));
    expect(judgeFields([frames]).scan).toBe('telecined');
  });

  it('does not guess where nothing moves', () => {
    const still = texturedPlane(160, 96);
    expect(judgeFields([Array.from({ length: 8 }, () => still)])).toMatchObject({ scan: 'unknown', confidence: 0 });
    expect(judgeFields([[newPlane(64, 48)]]).scan).toBe('unknown');
  });
});
