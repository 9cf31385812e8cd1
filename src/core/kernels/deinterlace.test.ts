import { describe, expect, it } from 'vitest';
import { psnr } from '../metrics/metrics';
import { newPlane, type Plane } from '../picture/picture';
import { noisyPlane, randomPlane, texturedPlane } from '../testing/pictures';
import { FIELD_MOTION, fillFields } from './deinterlace';
import { estimateMotion } from './motion';
import { deinterlaceReference, padFieldReference } from './reference/deinterlace';

/** A frame whose even lines are of one moment and whose odd lines of the next. */
function weave(even: Plane, odd: Plane): Plane {
  const out = { ...even, data: even.data.slice() };
  for (let y = 1; y < even.height; y += 2) out.data.set(odd.data.subarray(y * even.width, (y + 1) * even.width), y * even.width);
  return out;
}

function reference(frames: Plane[], topFirst: boolean, motion: boolean, edges: boolean): Plane[] {
  const { width, height } = frames[1];
  const lines = height >> 1;
  const parities: [0 | 1, 0 | 1] = topFirst ? [0, 1] : [1, 0];
  const first = (plane: Plane) => ({ plane, first: parities[0], step: 2 as const });
  const field = motion ? estimateMotion(first(frames[1]), first(frames[0]), first(frames[2]), FIELD_MOTION) : undefined;
  const fields = [0, 1, 2, 3, 4, 5].map((n) => padFieldReference(frames[n >> 1].data, width, lines, parities[n & 1]));
  return parities.map((parity, n) => {
    const out = frames[1].data.slice();
    deinterlaceReference(
      {
        fields: fields.slice(n, n + 5),
        width,
        lines,
        parity,
        vectors: field?.vectors,
        columns: field?.columns ?? 1,
        rows: field?.rows ?? 1,
        blockWidth: FIELD_MOTION.blockWidth,
        blockHeight: FIELD_MOTION.blockHeight,
        edges,
      },
      out,
    );
    return { width, height, data: out };
  });
}

const moments = (width: number, height: number, speed: number): Plane[] =>
  Array.from({ length: 6 }, (_, k) => texturedPlane(width, height, speed * k, (speed * k) / 3));

describe('fillFields', () => {
  for (const [motion, edges] of [
    [true, true],
    [true, false],
    [false, true],
    [false, false],
  ]) {
    it(`agrees with the reference, motion ${motion}, edges ${edges}`, () => {
      for (const width of [96, 75]) {
        const m = moments(width, 48, 3).map((p, i) => noisyPlane(p, 700, i));
        const frames: [Plane, Plane, Plane] = [weave(m[0], m[1]), weave(m[2], m[3]), weave(m[4], m[5])];
        for (const topFirst of [true, false]) {
          const [a, b] = fillFields(frames, topFirst, { motion, edges });
          const [ra, rb] = reference(frames, topFirst, motion, edges);
          expect(a.data).toEqual(ra.data);
          expect(b.data).toEqual(rb.data);
        }
      }
    });
  }

  it('agrees with the reference on pure noise', () => {
    const frames: [Plane, Plane, Plane] = [randomPlane(64, 32, 1), randomPlane(64, 32, 2), randomPlane(64, 32, 3)];
    const [a, b] = fillFields(frames, true, { motion: true, edges: true });
    expect([a.data, b.data]).toEqual(reference(frames, true, true, true).map((p) => p.data));
  });

  it('keeps the lines that are there, and gives still detail back whole', () => {
    const still = texturedPlane(128, 64);
    for (let x = 0; x < 128; x++) for (let y = 20; y < 28; y += 2) still.data[y * 128 + x] = 60000; // single bright lines
    const even = still.data.map((v) => v & ~1);
    const frame = { ...still, data: even };
    for (const filled of fillFields([frame, frame, frame], true, { motion: true, edges: true })) expect(filled.data).toEqual(even);
  });

  it('leaves no comb on what moves', () => {
    const m = moments(192, 96, 4);
    const frames: [Plane, Plane, Plane] = [weave(m[0], m[1]), weave(m[2], m[3]), weave(m[4], m[5])];
    const [first, second] = fillFields(frames, true, { motion: true, edges: true });
    expect(psnr(first, m[2], 65535, 8)).toBeGreaterThan(38);
    expect(psnr(second, m[3], 65535, 8)).toBeGreaterThan(38);
    expect(psnr(frames[1], m[2], 65535, 8)).toBeLessThan(30);
  });

  it('works at odd sizes and on a flat picture', () => {
    const flat = newPlane(37, 18, 20000);
    for (const filled of fillFields([flat, flat, flat], false, { motion: true, edges: true }))
      expect(filled.data.every((v) => v === 20000)).toBe(true);
  });
});
