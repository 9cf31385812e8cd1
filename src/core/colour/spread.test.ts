import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { randomStream } from '../picture/random';
import { type Links, linksOf } from './links';
import { spread } from './spread';

const even = (width: number, height: number): Links => ({
  ...{ width, height },
  across: Float32Array.from({ length: width * height }, (_, i) => Number(i % width < width - 1)),
  down: Float32Array.from({ length: width * height }, (_, i) => Number(i < width * (height - 1))),
});

/** The system solved by elimination. */
function eliminated({ width, height, across, down }: Links, pull: Float32Array, wanted: number[]): number[] {
  const n = width * height;
  const rows = Array.from({ length: n }, (_, i) => [...new Array<number>(n).fill(0), wanted[i]]);
  const link = (i: number, j: number, w: number): void => {
    rows[i][i] += w;
    rows[j][j] += w;
    rows[i][j] -= w;
    rows[j][i] -= w;
  };
  for (let i = 0; i < n; i++) {
    rows[i][i] += pull[i];
    if (across[i]) link(i, i + 1, across[i]);
    if (down[i]) link(i, i + width, down[i]);
  }
  for (let i = 0; i < n; i++)
    for (let j = i + 1; j < n; j++) {
      const by = rows[j][i] / rows[i][i];
      if (by !== 0) for (let k = i; k <= n; k++) rows[j][k] -= by * rows[i][k];
    }
  const x = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--)
    x[i] = (rows[i][n] - rows[i].slice(i + 1, n).reduce((sum, v, k) => sum + v * x[i + 1 + k], 0)) / rows[i][i];
  return x;
}

describe('spreading', () => {
  it('solves the system, whatever the links and the sides', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 13 }),
        fc.integer({ min: 2, max: 11 }),
        fc.integer({ min: 0, max: 1e6 }),
        (width, height, seed) => {
          const luma = Uint8Array.from({ length: width * height }, (_, i) => (Math.imul(i + seed, 2654435761) >>> 24) & 255);
          const links = linksOf(luma, width, height);
          const pull = new Float32Array(luma.length).fill(0.01);
          pull[0] = 5;
          pull[luma.length - 1] = 3;
          const wanted = new Float32Array(4 * luma.length);
          wanted.set([5, -2, 1], 0);
          wanted.set([-3, 3, 1], 4 * (luma.length - 1));
          const made = spread(links, pull, wanted);
          for (let c = 0; c < 3; c++) {
            const truth = eliminated(
              links,
              pull,
              Array.from(pull, (_, i) => wanted[4 * i + c]),
            );
            truth.forEach((v, i) => expect(Math.abs(made[4 * i + c] - v)).toBeLessThan(0.05));
          }
        },
      ),
      {
        numRuns: 40,
        examples: [
          [3, 10, 78418],
          [7, 3, 159331],
          [3, 11, 266440],
          [12, 3, 998730],
        ],
      },
    );
  });

  it('gives one colour everywhere where one is all there is', () => {
    const pull = new Float32Array(40 * 30);
    pull[417] = 40;
    const wanted = new Float32Array(4 * pull.length);
    wanted.set([40 * 0.2, 40 * -0.1, 40], 4 * 417);
    const made = spread(even(40, 30), pull, wanted);
    for (let i = 0; i < pull.length; i++) {
      expect(made[4 * i]).toBeCloseTo(0.2, 2);
      expect(made[4 * i + 1]).toBeCloseTo(-0.1, 2);
    }
  });
});

describe('spreading to what is all but shut off', () => {
  it('reaches pockets within edges as it reaches even parts', () => {
    const width = 160,
      height = 120;
    const links = even(width, height);
    // Half of all links let pass next to nothing: places, and clusters of a few, hang by the least.
    const random = randomStream(5);
    for (const side of [links.across, links.down]) for (let i = 0; i < side.length; i++) if (random() < 0.5) side[i] *= 1e-5;
    const pull = new Float32Array(width * height);
    pull[7 * width + 9] = 40;
    const wanted = new Float32Array(4 * pull.length);
    wanted.set([40 * 0.3, 40 * -0.2, 40], 4 * (7 * width + 9));
    const made = spread(links, pull, wanted);
    let off = 0;
    for (let i = 0; i < pull.length; i++) off = Math.max(off, Math.abs(made[4 * i] - 0.3), Math.abs(made[4 * i + 1] + 0.2));
    expect(off).toBeLessThan(0.01);
  });
});

describe('links', () => {
  it('are open in even parts and in texture, and shut at an edge and at what is barred', () => {
    const width = 60,
      height = 40;
    const luma = Uint8Array.from({ length: width * height }, (_, i) => {
      const x = i % width;
      return x < 20 ? 90 : x < 40 ? 160 : 160 + ((i * 7919) % 23);
    });
    const barred = new Uint8Array(luma.length);
    for (let x = 0; x < width; x++) barred[10 * width + x] = 1;
    const { across, down } = linksOf(luma, width, height, barred);
    const at = (x: number, y: number): number => y * width + x;
    expect(across[at(5, 20)]).toBe(1);
    expect(across[at(19, 20)]).toBeLessThan(0.005);
    expect(down[at(5, 9)]).toBeLessThan(1e-5);
    const texture = Array.from({ length: 12 }, (_, n) => across[at(46 + n, 25)]);
    expect(texture.reduce((sum, v) => sum + v, 0) / texture.length).toBeGreaterThan(0.4);
    expect(across[at(width - 1, 20)]).toBe(0);
  });
});
