import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cutPicture, growRegion, type Picture } from '../picture/picture';
import { picture, streamInfo } from '../testing/pictures';
import { curveThrough } from '../../shared/curve';
import { curveTable } from './curve';
import { layerStops, PLAIN_LAYER, type Look } from './look';
import { DARKEST, FINE, stopTables } from './stops';
import { toned, tonedBorder } from './toned';

const PLAIN: Look = {
  layers: [PLAIN_LAYER, PLAIN_LAYER, PLAIN_LAYER],
  uneven: { across: 0, down: 0, corners: 0 },
  ...{ darks: 0, lights: 0, large: 1, small: 1, strength: 1, pale: 1, curve: [] },
};

const print = (width = 96, height = 80): Picture =>
  picture(
    streamInfo({
      ...{ width, height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
      colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
    }),
  );

describe('light in stops', () => {
  it('gives each code back', () => {
    const { ofCode, codes } = stopTables('srgb');
    const codeOf = (stops: number): number => codes[Math.round((stops - DARKEST) * FINE)];
    for (let code = 600; code < 65536; code += 97) expect(Math.abs(codeOf(ofCode[code]) - code)).toBeLessThan(14);
    expect(ofCode[65535]).toBe(0);
    expect(codeOf(DARKEST)).toBe(0);
    expect(codeOf(3)).toBe(65535);
    // Half the light of white is one stop below it.
    expect(Math.round(codeOf(-1) / 257)).toBe(188);
  });
});

describe('a layer', () => {
  it('undoes the fading of its dye', () => {
    for (const stops of [-0.4, -2, -5.5])
      expect(layerStops({ left: 0.6, base: 0.3, shift: 0, bend: 0 }, 0.6 * stops - 0.3)).toBeCloseTo(stops);
  });

  it('bends between white and black only', () => {
    const bent = { left: 1, base: 0, shift: 0, bend: 0.5 };
    expect(layerStops(bent, -0.15)).toBeCloseTo(-0.15);
    expect(layerStops(bent, -6.4)).toBeCloseTo(-6.4);
    expect(layerStops(bent, (-0.15 - 6.4) / 2)).toBeCloseTo((-0.15 - 6.4) / 2 + 0.5);
  });
});

describe('a curve', () => {
  it('goes through its points and never turns back between rising ones', () => {
    const step = fc.integer({ min: 1, max: 100 }),
      rise = fc.integer({ min: 0, max: 100 });
    fc.assert(
      fc.property(fc.array(fc.tuple(step, rise), { minLength: 2, maxLength: 8 }), (steps) => {
        let x = 0,
          y = 0;
        const points = steps.map(([dx, dy]) => ({ x: (x += dx) / 800, y: (y += dy) / 800 }));
        const at = curveThrough(points);
        points.forEach(({ x, y }) => expect(at(x)).toBeCloseTo(y, 9));
        let before = -1;
        for (let i = 0; i <= 200; i++) {
          expect(at(i / 200)).toBeGreaterThanOrEqual(before - 1e-9);
          before = at(i / 200);
        }
      }),
    );
  });

  it('is level beyond its ends', () => {
    const table = curveTable([
      { x: 0.25, y: 0.1 },
      { x: 0.75, y: 0.9 },
    ]);
    expect([table[0], table[65535]]).toEqual([6554, 58982]);
  });
});

describe('another look', () => {
  it('of nothing is the picture itself, to the bit', () => {
    const source = print();
    toned(source, source.region, PLAIN).planes.forEach((plane, p) => expect(plane.data).toEqual(source.planes[p].data));
  });

  it('a stop brighter doubles the light', () => {
    const source = print();
    const light = { ...PLAIN_LAYER, shift: 1 };
    const made = toned(source, source.region, { ...PLAIN, layers: [light, light, light], strength: 1 });
    const { ofCode } = stopTables('srgb');
    let seen = 0;
    made.planes[0].data.forEach((v, i) => {
      const neutral = [1, 2].every((p) => Math.abs(source.planes[p].data[i] - 32768) < 700);
      const before = ofCode[source.planes[0].data[i]];
      if (!neutral || before > -1.1 || before < -8) return;
      seen++;
      expect(ofCode[v] - before).toBeCloseTo(1, 0);
    });
    expect(seen).toBeGreaterThan(0);
  });

  it('evens light that falls off, and lifts darks without lights', () => {
    const flat = print(64, 64);
    flat.planes.forEach((plane, p) => plane.data.fill(p ? 32768 : 20000));
    const right = toned(flat, flat.region, { ...PLAIN, uneven: { across: 1, down: 0, corners: 0 } });
    const { ofCode } = stopTables('srgb');
    expect(ofCode[right.planes[0].data[63]] - ofCode[right.planes[0].data[0]]).toBeCloseTo(63 / 64, 1);
    const parted = print(64, 64);
    parted.planes.forEach((plane, p) => plane.data.forEach((_, i) => (plane.data[i] = p ? 32768 : i % 64 < 32 ? 9000 : 58000)));
    const lifted = toned(parted, parted.region, { ...PLAIN, darks: 1.5 }).planes[0].data;
    expect(lifted[0]).toBeGreaterThan(13_000);
    expect(Math.abs(lifted[63] - 58_000)).toBeLessThan(600);
  });

  it('is strong colours left and pale ones raised where pale ones are asked for', () => {
    const source = print(16, 16);
    source.planes.forEach((plane, p) =>
      plane.data.forEach((_, i) => (plane.data[i] = p === 0 ? 30_000 : 32_768 + (i < 128 ? 900 : 16_000))),
    );
    const made = toned(source, source.region, { ...PLAIN, pale: 1.5 }).planes[1].data;
    expect(made[0] - 32_768).toBeGreaterThan(1250);
    expect(Math.abs(made[255] - 32_768 - 16_000)).toBeLessThan(400);
  });

  it('of any part is that of the whole, to the bit', () => {
    const source = print(200, 160);
    const amount = fc.integer({ min: -10, max: 10 }).map((v) => v / 10);
    fc.assert(
      fc.property(amount, amount, amount, fc.nat(120), fc.nat(90), (darks, large, across, x, y) => {
        const look: Look = { ...PLAIN, darks, large: 1 + large / 2, small: 1 - large / 3, uneven: { across, down: 0.2, corners: -0.3 } };
        const whole = toned(source, source.region, look);
        const region = { x, y, width: 60, height: 50 };
        const own = growRegion(region, tonedBorder(look, source.info), 1, source.info);
        const part = toned(cutPicture(source, own), region, look);
        const expected = cutPicture(whole, region);
        part.planes.forEach((plane, p) => expect(plane.data).toEqual(expected.planes[p].data));
      }),
      { numRuns: 25 },
    );
  });
});
