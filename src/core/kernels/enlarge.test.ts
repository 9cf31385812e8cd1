import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { psnr } from '../metrics/metrics';
import { lightTables, plainTables } from '../picture/light';
import { cutPlane, newPlane, type Plane, type Region } from '../picture/picture';
import { randomStream } from '../picture/random';
import { texturedPlane } from '../testing/pictures';
import { enlargedCubic, resizePlane, type EnlargeOptions, type Mapping } from './enlarge';
import { smoothAlongReference } from './reference/edges';
import { limitReference, resampleReference, type FloatPlane } from './reference/resample';
import { resampleTaps, type ResampleFilter } from './reference/taps';
import { kernels } from './wasm';

const whole = (p: { width: number; height: number }): Region => ({ x: 0, y: 0, width: p.width, height: p.height });
const axis = (from: number, to: number) => ({ from, to, siting: 0.5 });
const PLAIN: EnlargeOptions = { edges: 0, slack: 10, consistency: 0 };
const FULL: EnlargeOptions = { edges: 0.5, slack: 0.1, consistency: 1 };

function randomFloats(width: number, height: number, seed: number): FloatPlane {
  const random = randomStream(seed);
  return { width, height, data: Float32Array.from({ length: width * height }, random) };
}

describe('resampling kernels', () => {
  for (const [filter, from, to] of [
    ['lanczos3', 23, 41],
    ['cubic', 31, 64],
    ['area', 61, 24],
    ['lanczos3', 50, 19],
  ] as [ResampleFilter, number, number][]) {
    it(`${filter} ${from} to ${to} agrees with the reference`, () => {
      const source = randomFloats(from, from + 4, 7);
      const columns = resampleTaps(axis(from, to), filter, 0, to, 0),
        rows = resampleTaps(axis(from + 4, to + 3), filter, 0, to + 3, 0);
      const { run, arena } = kernels();
      const result = arena.scope(() => {
        const put = (t: typeof rows) => [arena.putInts(t.starts), arena.putFloats(t.weights)];
        const between = arena.reserve(from * (to + 3) * 4),
          out = arena.reserve(to * (to + 3) * 4),
          pad = columns.count + 64;
        const [rs, rw] = put(rows),
          [cs, cw] = put(columns);
        run.resampleRows({
          src: arena.putFloats(source.data),
          width: from,
          height: from + 4,
          starts: rs,
          weights: rw,
          taps: rows.count,
          outHeight: to + 3,
          dst: between,
        });
        run.resampleColumns({
          src: between,
          width: from,
          height: to + 3,
          starts: cs,
          weights: cw,
          taps: columns.count,
          outWidth: to,
          pad,
          line: arena.reserve((from + 2 * pad) * 4),
          dst: out,
        });
        return new Float32Array(arena.memory.buffer, out, to * (to + 3)).slice();
      });
      resampleReference(source, columns, rows).data.forEach((v, i) => expect(result[i]).toBeCloseTo(v, 4));
    });
  }

  it('limitRinging agrees with the reference', () => {
    const source = randomFloats(20, 16, 8),
      data = randomFloats(37, 30, 9).data.map((v) => 2 * v - 0.5);
    const columns = Int32Array.from({ length: 37 }, (_, i) => Math.floor((i * 20) / 37 - 0.3)),
      rows = Int32Array.from({ length: 30 }, (_, i) => Math.floor((i * 16) / 30 - 0.3));
    const { run, arena } = kernels();
    const result = arena.scope(() => {
      const at = arena.putFloats(data);
      run.limitRinging({
        src: arena.putFloats(source.data),
        width: 20,
        height: 16,
        columns: arena.putInts(columns),
        rows: arena.putInts(rows),
        outWidth: 37,
        outHeight: 30,
        slack: 0.1,
        lines: arena.reserve((37 + 20 + 1) * 8),
        data: at,
      });
      return new Float32Array(arena.memory.buffer, at, data.length).slice();
    });
    limitReference(source, columns, rows, 0.1, data).forEach((v, i) => expect(result[i]).toBeCloseTo(v, 5));
  });

  // Widths that fill whole vectors and one that does not.
  it.each([40, 37])('smoothAlongEdges agrees with the reference over %i columns', (width) => {
    const stride = 48,
      height = 24,
      border = 4;
    const padded = Float32Array.from(texturedPlane(stride, height + 2 * border).data, (v) => v / 65535);
    const inside = (from: Float32Array): number[] =>
      Array.from({ length: width * height }, (_, i) => from[(Math.floor(i / width) + border) * stride + (i % width) + border]);
    const { run, arena } = kernels();
    const result = arena.scope(() => {
      const data = arena.putFloats(Float32Array.from(inside(padded)));
      run.smoothAlongEdges({
        src: arena.putFloats(padded),
        stride,
        width,
        height,
        strength: 0.7,
        floor: 2e-6,
        tensor: arena.reserve(12 * stride * 4),
        data,
      });
      return arena.takeFloats(data, width * height);
    });
    const reference = smoothAlongReference(padded, stride, height + 2 * border, 0.7, 2e-6);
    inside(reference).forEach((v, i) => expect(result[i]).toBeCloseTo(v, 4));
  });
});

describe('resampleTaps', () => {
  it('always adds up to one and leaves a size that does not change alone', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 300 }),
        fc.integer({ min: 2, max: 300 }),
        fc.constantFrom<ResampleFilter>('lanczos3', 'cubic', 'area'),
        (from, to, filter) => {
          const taps = resampleTaps(axis(from, to), filter, 0, to, 0);
          for (let i = 0; i < to; i++)
            expect(taps.weights.subarray(i * taps.count, (i + 1) * taps.count).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
        },
      ),
      { numRuns: 60 },
    );
    const same = resampleTaps(axis(10, 10), 'lanczos3', 0, 10, 0);
    for (let i = 0; i < 10; i++) expect(same.weights[i * same.count + i - same.starts[i]]).toBeCloseTo(1, 6);
  });
});

describe('enlargedCubic', () => {
  it('keeps a slope straight', () => {
    const slope = newPlane(40, 24);
    slope.data.forEach((_, i) => (slope.data[i] = 5000 + 1000 * (i % 40) + 300 * Math.floor(i / 40)));
    for (const factor of [2, 4]) {
      const map: Mapping = { x: axis(40, 40 * factor), y: axis(24, 24 * factor) };
      const out = enlargedCubic(slope, whole(slope), { x: 0, y: 0, width: 40 * factor, height: 24 * factor }, map);
      for (let y = 2 * factor; y < 22 * factor; y++) {
        for (let x = 2 * factor; x < 38 * factor; x++) {
          const truth = 5000 + 1000 * ((x + 0.5) / factor - 0.5) + 300 * ((y + 0.5) / factor - 0.5);
          expect(Math.abs(out[y * 40 * factor + x] * 65535 - truth)).toBeLessThan(0.5);
        }
      }
    }
  });

  it('makes a part as it makes the whole', () => {
    const plane = texturedPlane(60, 44),
      map: Mapping = { x: axis(60, 120), y: axis(44, 88) };
    const all = enlargedCubic(plane, whole(plane), { x: 0, y: 0, width: 120, height: 88 }, map);
    const from: Region = { x: 9, y: 7, width: 40, height: 30 },
      wanted: Region = { x: 26, y: 20, width: 50, height: 36 };
    const part = enlargedCubic(cutPlane(plane, from.x, from.y, from.width, from.height), from, wanted, map);
    for (let y = 0; y < wanted.height; y++)
      expect(part.subarray(y * wanted.width, (y + 1) * wanted.width)).toEqual(
        all.subarray((wanted.y + y) * 120 + wanted.x, (wanted.y + y) * 120 + wanted.x + wanted.width),
      );
  });
});

describe('resizePlane', () => {
  const tables = lightTables('full', 'srgb');
  const resize = (p: Plane, width: number, height: number, options: EnlargeOptions, t = tables): Plane =>
    resizePlane(p, whole(p), { x: 0, y: 0, width, height }, { x: axis(p.width, width), y: axis(p.height, height) }, t, options);

  it('keeps a flat picture flat', () => {
    for (const [w, h] of [
      [90, 60],
      [31, 22],
    ]) {
      const out = resize(newPlane(60, 40, 31000), w, h, FULL);
      for (const v of out.data) expect(Math.abs(v - 31000)).toBeLessThan(40);
    }
  });

  it('gathers light, not codes, when it reduces: a fine black and white pattern becomes the grey of half the light', () => {
    const pattern = newPlane(64, 64);
    pattern.data.forEach((_, i) => (pattern.data[i] = (i + Math.floor(i / 64)) % 2 ? 65535 : 0));
    const grey = resize(pattern, 16, 16, PLAIN).data[8 * 16 + 8] / 65535;
    expect(grey).toBeCloseTo(0.7354, 2); // IEC 61966-2-1 of light 0.5
  });

  it('gives the source back when its enlargement is reduced', () => {
    const source = texturedPlane(80, 60);
    const large = resize(source, 160, 120, FULL);
    expect(psnr(resize(large, 80, 60, PLAIN), source, 65535, 4)).toBeGreaterThan(48);
  });

  it('does not ring beyond its slack at a hard edge', () => {
    const step = newPlane(40, 40, 12000);
    for (let y = 0; y < 40; y++) step.data.fill(50000, y * 40 + 20, (y + 1) * 40);
    const out = resize(step, 100, 100, { ...FULL, consistency: 0 });
    expect(Math.min(...out.data)).toBeGreaterThan(12000 - 0.11 * 38000);
    expect(Math.max(...out.data)).toBeLessThan(50000 + 0.11 * 38000);
  });

  it('gives a part as it is in the whole: seams cannot show', () => {
    const source = texturedPlane(120, 90);
    const map: Mapping = { x: axis(120, 270), y: axis(90, 202) };
    const all = resizePlane(source, whole(source), { x: 0, y: 0, width: 270, height: 202 }, map, tables, FULL);
    const wanted = { x: 90, y: 60, width: 70, height: 50 };
    const region = { x: 20, y: 8, width: 72, height: 66 };
    const part = resizePlane(cutPlane(source, region.x, region.y, region.width, region.height), region, wanted, map, tables, FULL);
    expect(part.data).toEqual(cutPlane(all, wanted.x, wanted.y, wanted.width, wanted.height).data);
  });

  it('is sharper than it is without the refinement, against known truth', () => {
    const truth = texturedPlane(160, 128);
    const small = resize(truth, 80, 64, PLAIN);
    expect(psnr(resize(small, 160, 128, FULL), truth, 65535, 8)).toBeGreaterThan(psnr(resize(small, 160, 128, PLAIN), truth, 65535, 8));
  });

  it('leaves chroma codes alone under plain tables', () => {
    const out = resize(newPlane(30, 30, 32768), 61, 45, { edges: 0, slack: 0.2, consistency: 0 }, plainTables());
    for (const v of out.data) expect(Math.abs(v - 32768)).toBeLessThanOrEqual(1);
  });
});
