import { describe, expect, it } from 'vitest';
import { psnr } from '../metrics/metrics';
import { newPlane, type Plane } from '../picture/picture';
import { texturedPlane } from '../testing/pictures';
import { randomStream } from '../picture/random';
import { deconvolve } from './deconvolve';
import { findMotion } from './findMotion';
import { steepnessAlong } from './steepness';
import { spreadReach, spreadSamples, type Spread } from './spread';

const WIDTH = 150,
  HEIGHT = 110;
const whole = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
const SPREADS: Spread[] = [
  { kind: 'softness', blur: 1.5 },
  { kind: 'defocus', radius: 2.4 },
  { kind: 'motion', length: 7, angle: 30 },
];

function spread(plane: Plane, by: Spread): Plane {
  const { reach, samples } = spreadSamples(by);
  const out = newPlane(plane.width, plane.height);
  const held = (v: number, extent: number): number => Math.min(extent - 1, Math.max(0, v));
  out.data.forEach((_, at) => {
    let sum = 0;
    samples.forEach((v, i) => {
      const x = (at % plane.width) - (i % (2 * reach + 1)) + reach,
        y = Math.floor(at / plane.width) - Math.floor(i / (2 * reach + 1)) + reach;
      sum += v * plane.data[held(y, plane.height) * plane.width + held(x, plane.width)];
    });
    out.data[at] = Math.round(sum);
  });
  return out;
}

describe('a spread', () => {
  it.each(SPREADS)('sums to one and is alike to both sides: %j', (by) => {
    const { reach, samples } = spreadSamples(by);
    expect(reach).toBe(spreadReach(by));
    expect(samples.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
    samples.forEach((v, i) => expect(v).toBeCloseTo(samples[samples.length - 1 - i], 9));
  });

  it('of motion has its length and its direction', () => {
    const { reach, samples } = spreadSamples({ kind: 'motion', length: 9, angle: 90 });
    const side = 2 * reach + 1;
    const column = Array.from({ length: side }, (_, y) => samples[y * side + reach]);
    expect(column.filter((v) => v > 0.05)).toHaveLength(9);
    expect(samples[reach * side + reach + 2]).toBe(0);
  });
});

describe('a spread undone', () => {
  const truth = texturedPlane(WIDTH, HEIGHT);

  it.each(SPREADS.flatMap((by) => [false, true].map((network) => [by, network] as const)))(
    'comes nearer to the truth: %j, network %s',
    async (by, network) => {
      const soft = spread(truth, by);
      const made = await deconvolve(soft, whole, whole, { spread: by, noise: 0.5, strength: 1, network });
      expect(psnr(made, truth, 65535, 12)).toBeGreaterThan(psnr(soft, truth, 65535, 12) + (network ? 2 : 1));
    },
  );

  it('gives a part as it gives the whole, and at no strength the plane itself', async () => {
    const how = { spread: SPREADS[2], noise: 1, strength: 1, network: false };
    const all = await deconvolve(truth, whole, whole, how);
    const part = { x: 31, y: 17, width: 40, height: 50 };
    const made = await deconvolve(truth, whole, part, how);
    made.data.forEach((v, i) => expect(v).toBe(all.data[(17 + Math.floor(i / 40)) * WIDTH + 31 + (i % 40)]));
    const none = await deconvolve(truth, whole, whole, { ...how, strength: 0 });
    none.data.forEach((v, i) => expect(Math.abs(v - truth.data[i])).toBeLessThanOrEqual(1));
  });
});

describe('the motion of a picture', () => {
  const random = randomStream(12);
  const plane = newPlane(300, 280);
  // Blocks of many tones: a picture with edges every way.
  const tones = Array.from({ length: 4000 }, () => 9000 + 48000 * random());
  plane.data.forEach((_, i) => {
    const x = i % 300,
      y = Math.floor(i / 300);
    plane.data[i] = Math.round(tones[Math.floor((x + 0.3 * y) / 9) + 40 * Math.floor((y - 0.2 * x + 60) / 11)] ?? 20000);
  });

  it.each([
    [12, 60],
    [20, 110],
  ])('of %f px at %f° is found', (length, angle) => {
    const found = findMotion(spread(plane, { kind: 'motion', length, angle }));
    expect(found?.length).toBeCloseTo(length, 0);
    expect(Math.abs((found?.angle ?? 0) - angle)).toBeLessThan(4);
    expect(found?.strength).toBeGreaterThan(5);
  });

  it.each([
    [9, 60],
    [16, 110],
    [20, 0],
  ])('of %f px at %f° leaves no steep edges along it, and others do', (length, angle) => {
    const moved = spread(plane, { kind: 'motion', length, angle });
    expect(steepnessAlong(moved, { length, angle })).toBeLessThan(1.7);
    expect(steepnessAlong(plane, { length, angle })).toBeGreaterThan(2.2);
  });

  it('is looked for in pictures that are large enough', () => {
    expect(findMotion(newPlane(200, 300))).toBeUndefined();
  });
});
