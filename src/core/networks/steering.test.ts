import { describe, expect, it } from 'vitest';
import { KINDS, most, putSteering, combined, UNITS, type Strength } from './steering';

const ALL = { luma: 1, chroma: 1 };

describe('together', () => {
  it('takes several requests as one, with the least share of all', () => {
    const one = combined([
      { steering: { grainLuma: 4, grainChroma: 2, grainSize: 0.5 }, share: { luma: 0.9, chroma: 0.9 } },
      { steering: { step: 12 }, share: ALL },
    ]);
    expect(one.steering).toEqual({ grainLuma: 4, grainChroma: 2, grainSize: 0.5, step: 12, blur: 0 });
    expect(one.share).toEqual({ luma: 0.9, chroma: 0.9 });
    expect(one.moving).toBe(false);
  });

  it('lets no step that leaves a plane alone hold another back', () => {
    const colour = { steering: { grainLuma: 0, grainChroma: 6 }, share: { luma: 0, chroma: 0.8 } },
      nothing = { steering: { blur: 2 }, share: { luma: 0, chroma: 0 }, moving: true };
    const one = combined([colour, { steering: { step: 9 }, share: ALL }, nothing]);
    expect(one.share).toEqual({ luma: 1, chroma: 0.8 });
    expect(one.steering.blur).toBe(0);
    expect(one.moving).toBe(false);
    expect(combined([nothing]).share).toEqual({ luma: 0, chroma: 0 });
  });

  it('takes a kind named twice at the stronger, pixel by pixel where there is a plane, and the neighbours where one asks for them', () => {
    const region = { x: 0, y: 0, width: 2, height: 2 },
      plane = { region, values: Float32Array.of(1, 2, 3, 4) };
    expect(
      combined([
        { steering: { step: 5 }, share: ALL },
        { steering: { step: 9 }, share: ALL },
      ]).steering.step,
    ).toBe(9);
    const blur = (...given: Strength[]): Strength => combined(given.map((b) => ({ steering: { blur: b }, share: ALL }))).steering.blur;
    expect(blur(0, plane)).toEqual(plane);
    expect(blur(2, plane)).toEqual({ region, values: Float32Array.of(2, 2, 3, 4) });
    expect(blur(plane, { region, values: Float32Array.of(4, 1, 1, 5) })).toEqual({ region, values: Float32Array.of(4, 2, 3, 5) });
    expect(
      combined([
        { steering: {}, share: ALL },
        { steering: {}, share: ALL, moving: true },
      ]).moving,
    ).toBe(true);
    expect(most(plane)).toBe(4);
  });
});

describe('steering planes', () => {
  const part = { x: 4, y: 2, width: 4, height: 4 };

  it('hold each strength in its unit, in order', () => {
    const out = new Float32Array(2 + KINDS.length * 4);
    putSteering({ grainLuma: 16, grainChroma: 8, step: 32, blur: 1, grainSize: 0.75 }, part, out, 2);
    expect([...out]).toEqual([0, 0, ...[0.5, 0.25, 0.5, 0.5, 0.5].flatMap((v) => [v, v, v, v])]);
  });

  it('hold the means of four pixels of a mask, whose edge repeats', () => {
    const region = { x: 4, y: 2, width: 3, height: 2 },
      values = Float32Array.of(UNITS.blur, 0, UNITS.blur, 0, 0, UNITS.blur);
    const out = new Float32Array(KINDS.length * 4);
    putSteering({ grainLuma: 0, grainChroma: 0, step: 0, blur: { region, values }, grainSize: 0 }, part, out, 0);
    // Second row: the mask's last line again.
    expect([...out.subarray(12, 16)]).toEqual([0.25, 1, 0, 1]);
  });
});
