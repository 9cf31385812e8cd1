import { describe, expect, it } from 'vitest';
import type { Picture } from '../picture/picture';
import { noisyPlane, picture, streamInfo } from '../testing/pictures';
import { measureFrame, tracedFrames, tracesOf, worstPlaces, type FrameMeasures } from './traces';

const info = streamInfo({ width: 160, height: 96, frames: 40 });
const lit = (p: Picture, codes: number): Picture => ({
  ...p,
  planes: p.planes.map((plane, i) => (i ? plane : { ...plane, data: plane.data.map((v) => v + codes * 256) })),
});
const flat: FrameMeasures = { frame: 0, combing: 0, grain: 2, light: 100, motion: 1, softness: 0.6, blocks: 1, jump: 0.01 };
const run = (...parts: Partial<FrameMeasures>[]): FrameMeasures[] => parts.map((part, frame) => ({ ...flat, frame, ...part }));

describe('measureFrame', () => {
  it('tells light, motion and grain of frames as they are', () => {
    const [a, b] = [picture(info, 0), picture(info, 1)];
    const still = measureFrame(1, a, a, false),
      moved = measureFrame(1, b, a, false);
    expect(still.motion).toBe(0);
    expect(moved.motion).toBeGreaterThan(1);
    expect(measureFrame(1, lit(a, 12), a, false).light - still.light).toBeCloseTo(12, 1);
    const [earlier, noisy] = [4, 3].map((seed) => ({ ...a, planes: a.planes.map((p, i) => (i ? p : noisyPlane(p, 6 * 256, seed))) }));
    expect(measureFrame(1, noisy, earlier, false).grain).toBeGreaterThan(5);
    expect(measureFrame(0, a, undefined, false)).toMatchObject({ motion: 0, jump: 0 });
  });

  it('combs where fields of two moments are woven', () => {
    const [a, b] = [picture(info, 0), picture(info, 3)];
    const [top] = a.planes;
    const data = top.data.slice();
    for (let y = 1; y < top.height; y += 2) data.set(b.planes[0].data.subarray(y * top.width, (y + 1) * top.width), y * top.width);
    const woven = { ...a, planes: [{ ...top, data }, ...a.planes.slice(1)] };
    expect(measureFrame(1, woven, a, true).combing).toBeGreaterThan(10 * measureFrame(1, a, a, true).combing + 0.5);
  });
});

describe('tracesOf', () => {
  it('finds the frame that is too light, and scene changes without taking them for flicker', () => {
    const measures = run({}, {}, { light: 108 }, {}, {}, {}, { light: 40, jump: 0.8 }, { light: 40 }, { light: 40 }, { light: 40 });
    const traces = tracesOf(measures);
    expect(traces.scenes).toEqual([6]);
    expect(traces.values.flicker).toEqual([0, 0, 8, 0, 0, 0, 0, 0, 0, 0]);
  });

  it('takes restless pictures for no scene changes', () => {
    expect(tracesOf(run(...Array.from({ length: 9 }, () => ({ jump: 0.3 })))).scenes).toEqual([]);
  });
});

describe('worstPlaces', () => {
  it('are the highest, apart from one another, and never where nothing was measured', () => {
    const traces = tracesOf(run({ softness: null }, { softness: 3 }, { softness: 2.9 }, {}, { softness: 2 }));
    expect(worstPlaces(traces, 'softness', 3, 2)).toEqual([
      { frame: 1, value: 3 },
      { frame: 4, value: 2 },
    ]);
  });
});

describe('tracedFrames', () => {
  it('are all of a short clip and evenly spread ones of a long one', () => {
    expect(tracedFrames(4, 10)).toEqual([0, 1, 2, 3]);
    expect(tracedFrames(10, 4)).toEqual([0, 3, 6, 9]);
    expect(tracedFrames(100_000, 3000).length).toBeLessThanOrEqual(3000);
  });
});
