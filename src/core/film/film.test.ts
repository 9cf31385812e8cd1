import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newPlane, type Picture, wholeRegion } from '../picture/picture';
import { randomStream } from '../picture/random';
import { streamInfo } from '../testing/pictures';
import { type Carried, carryPlaces, type Places } from './carry';
import { type FilmMotion, motionRaster, pairMotion, reducedFrame, shotOf } from './motion';

const info = streamInfo({ width: 384, height: 288, frames: 9, planes: 1, chromaShiftX: 0, chromaShiftY: 0 });

/** Soft forms of many sizes that lie `dx`, `dy` pixels further on; another seed is another scene. */
function scene(dx: number, dy: number, seed = 0): Picture {
  const plane = newPlane(info.width, info.height);
  for (let y = 0; y < info.height; y++)
    for (let x = 0; x < info.width; x++) {
      const [u, v] = [x - dx, y - dy];
      let light = 0.5;
      for (const [n, size] of [150, 61, 37, 23].entries())
        light += 0.11 * Math.sin((u + 13 * n + 71 * seed) / (size / 6.3)) * Math.cos((v - 29 * n + 53 * seed) / (size / 5.1));
      plane.data[y * info.width + x] = Math.round(65535 * Math.min(1, Math.max(0, light)));
    }
  return { info, region: wholeRegion(info), planes: [plane] };
}

function motionOf(frames: Picture[]): FilmMotion {
  const reduced = frames.map(reducedFrame);
  const raster = motionRaster(reduced[0]);
  const size = 2 * raster.columns * raster.rows;
  const motion = { ...raster, width: info.width, height: info.height, frames: frames.length, shots: [0] };
  const back = new Int8Array(size * frames.length),
    forth = new Int8Array(size * frames.length);
  for (let n = 1; n < frames.length; n++) {
    const pair = pairMotion(reduced[n - 1], reduced[n]);
    back.set(pair.back, n * size);
    forth.set(pair.forth, n * size);
    if (pair.cut) motion.shots.push(n);
  }
  return { ...motion, back, forth };
}

const at = (x: number, y: number): Places => ({ x: Float32Array.of(x), y: Float32Array.of(y) });

describe('motion of a film', () => {
  it('carries places along a slow and a fast way, and back', () => {
    for (const [dx, dy] of [
      [0.7, -0.4],
      [6.3, 3.1],
      [0, 0],
    ]) {
      const motion = motionOf(Array.from({ length: 9 }, (_, n) => scene(n * dx, n * dy)));
      expect(motion.shots).toEqual([0]);
      const begun = { x: Float32Array.of(150, 231.5), y: Float32Array.of(120, 170) };
      const there = carryPlaces(motion, 0, 8, begun) as Carried;
      const home = carryPlaces(motion, 8, 0, there) as Carried;
      for (const n of [0, 1]) {
        expect(Math.abs(there.x[n] - begun.x[n] - 8 * dx)).toBeLessThan(2);
        expect(Math.abs(there.y[n] - begun.y[n] - 8 * dy)).toBeLessThan(2);
        expect(there.sure[n]).toBeGreaterThan(0.9);
        expect(Math.hypot(home.x[n] - begun.x[n], home.y[n] - begun.y[n])).toBeLessThan(2);
      }
    }
  });

  it('tells where a shot ends, and carries nothing over it', () => {
    const motion = motionOf([scene(0, 0), scene(2, 0), scene(0, 0, 5), scene(0, 3, 5)]);
    expect(motion.shots).toEqual([0, 2]);
    expect(carryPlaces(motion, 0, 2, at(100, 100))).toBeUndefined();
    expect(shotOf(motion, 1)).toEqual({ first: 0, last: 1 });
    expect(shotOf(motion, 3)).toEqual({ first: 2, last: 3 });
  });

  it('goes on through flicker, dust and scratches as old films have them', () => {
    const random = randomStream(3);
    const frames = Array.from({ length: 9 }, (_, n) => {
      const { planes, ...frame } = scene(2 * n, n);
      const data = planes[0].data.map((v) => Math.min(65535, v * (n % 2 ? 0.72 : 1.1) + (n % 3) * 2500));
      for (let speck = 0; speck < 60; speck++) {
        const from = Math.floor(random() * (data.length - 5 * info.width - 6));
        const tone = random() < 0.6 ? 62_000 : 2000;
        for (let row = 0; row < 5; row++) data.fill(tone, from + row * info.width, from + row * info.width + 6);
      }
      for (let line = 0; line < 2; line++) {
        const x = Math.floor(random() * info.width);
        for (let y = 0; y < info.height; y++) data[y * info.width + x] = 60_000;
      }
      return { ...frame, planes: [{ ...planes[0], data }] };
    });
    const motion = motionOf(frames);
    expect(motion.shots).toEqual([0]);
    const there = carryPlaces(motion, 0, 8, at(150, 120)) as Carried;
    expect(Math.hypot(there.x[0] - 166, there.y[0] - 128)).toBeLessThan(6);
  });

  it('loses what leaves the frame', () => {
    const motion = motionOf(Array.from({ length: 9 }, (_, n) => scene(-9 * n, 0)));
    expect(carryPlaces(motion, 0, 8, at(30, 140))?.sure).toEqual(Float32Array.of(0));
  });

  it('has every frame in one shot, whatever the cuts', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 99 }), { maxLength: 8 }), fc.integer({ min: 0, max: 99 }), (cuts, frame) => {
        const shots = [0, ...cuts.sort((a, b) => a - b)];
        const { first, last } = shotOf({ shots, frames: 100 }, frame);
        expect(first <= frame && frame <= last).toBe(true);
        expect(shots.filter((cut) => cut > first && cut <= last)).toEqual([]);
      }),
    );
  });
});
