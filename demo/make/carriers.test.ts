import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cracks, dust, fadedDyes, fold, ground, halftone, laidDown, silverMirror, slideFilm, toned, toSquare } from './carriers';
import type { Raster } from './raster';

const flat = (level: number, width = 96, height = 72): Raster => ground(width, height, 1, [level, level, level], 0, [1, 1]);
const mean = (p: Raster, c: number): number => {
  let sum = 0;
  for (let i = c; i < p.data.length; i += 4) sum += p.data[i];
  return sum / (p.width * p.height);
};
/** Share of pixels that are not the level any more. */
const touched = (p: Raster, level: number): number => {
  let count = 0;
  for (let i = 0; i < p.data.length; i += 4) if (Math.abs(p.data[i] - level) > 8) count++;
  return count / (p.width * p.height);
};

describe('toSquare', () => {
  it('takes the corners to those of the unit square, and straight lines to straight lines', () => {
    fc.assert(
      fc.property(fc.tuple(...Array.from({ length: 8 }, () => fc.double({ min: -20, max: 20, noNaN: true }))), (d) => {
        const corners: [number, number][] = [
          [0 + d[0], 0 + d[1]],
          [200 + d[2], 0 + d[3]],
          [200 + d[4], 150 + d[5]],
          [0 + d[6], 150 + d[7]],
        ];
        const map = toSquare(corners);
        const wanted = [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ];
        corners.forEach(([x, y], i) => {
          const [u, v] = map(x, y);
          expect(u).toBeCloseTo(wanted[i][0], 6);
          expect(v).toBeCloseTo(wanted[i][1], 6);
        });
        // The middle of an edge stays on that edge.
        expect(map((corners[0][0] + corners[1][0]) / 2, (corners[0][1] + corners[1][1]) / 2)[1]).toBeCloseTo(0, 6);
      }),
    );
  });
});

describe('a print laid down', () => {
  it('is itself again where it is laid square', () => {
    const print = flat(180, 40, 30);
    const out = laidDown(
      print,
      [
        [20, 20],
        [60, 20],
        [60, 50],
        [20, 50],
      ],
      flat(60),
      0,
    );
    expect(out.data[(35 * 96 + 40) * 4]).toBeCloseTo(180, 3);
    expect(out.data[(5 * 96 + 5) * 4]).toBeCloseTo(60, 3);
  });
});

describe('damage', () => {
  it.each([40, 128, 215])('a halftone keeps the tone of %i on the whole', (level) => {
    const printed = flat(level, 200, 200);
    halftone(printed, 38, 4.3, [0, 0, 0], [255, 255, 255]);
    expect(Math.abs(mean(printed, 0) - level)).toBeLessThan(26);
    // And is made of ink and paper.
    const extremes = printed.data.filter((v, i) => i % 4 === 0 && (v < 40 || v > 215)).length;
    expect(extremes / 40000).toBeGreaterThan(0.6);
  });

  it('faded dyes leave white to the stain and turn grey to the dye that is left', () => {
    const white = flat(255),
      grey = flat(100);
    for (const p of [white, grey]) fadedDyes(p, [0.5, 0.9, 0.75], [250, 226, 214]);
    expect([mean(white, 0), mean(white, 1), mean(white, 2)].map(Math.round)).toEqual([250, 226, 214]);
    // The red that cyan held back comes through.
    expect(mean(grey, 0)).toBeGreaterThan(mean(grey, 1) + 40);
  });

  it('toning ends at the tones it is given', () => {
    const p = flat(0);
    toned(p, [44, 30, 20], [148, 114, 80], [236, 219, 188]);
    expect([p.data[0], p.data[1], p.data[2]]).toEqual([44, 30, 20]);
  });

  it('a slide loses its shadows and turns to its cast', () => {
    const dark = flat(30),
      light = flat(200);
    for (const p of [dark, light]) slideFilm(p, [0.76, 0.93, 1.16], 1.75);
    expect(mean(dark, 1)).toBeLessThan(12);
    expect(mean(light, 2)).toBeGreaterThan(mean(light, 0) + 30);
  });

  it('silver shows at the edges of dark parts, not in the middle', () => {
    const p = flat(30, 300, 300);
    silverMirror(p, 3, 60);
    expect(p.data[(3 * 300 + 150) * 4]).toBeGreaterThan(70);
    expect(p.data[(150 * 300 + 150) * 4]).toBeCloseTo(30, 0);
  });

  it('cracks, folds and dust touch little, and the same each time', () => {
    const damaged = (): Raster => {
      const p = flat(90, 200, 160);
      cracks(p, 4, 3);
      fold(p, 5, [0, 80], [200, 84]);
      dust(p, 6, 40, [250, 250, 250], [10, 10, 10]);
      return p;
    };
    const once = damaged();
    expect(touched(once, 90)).toBeGreaterThan(0.01);
    expect(touched(once, 90)).toBeLessThan(0.35);
    expect(damaged().data).toEqual(once.data);
  });
});
