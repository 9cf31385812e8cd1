import { describe, expect, it } from 'vitest';
import { asColour } from '../picture/asColour';
import { newPlane, type Picture, wholeRegion } from '../picture/picture';
import { streamInfo } from '../testing/pictures';
import { planOf } from '../testing/plans';
import { evidenceMap, inventedShare, ownPlan, paintEvidence, supportedPlan } from './evidence';
import { allSteps } from '../../shared/plan';

describe('evidence', () => {
  it('is whole where result and source agree, and falls with what was added', () => {
    const info = streamInfo({ width: 4, height: 1, planes: 1, chromaShiftX: 0, chromaShiftY: 0 });
    const pictured = (...codes: number[]): Picture => ({
      info,
      region: wholeRegion(info),
      planes: [{ width: 4, height: 1, data: Uint16Array.from(codes) }],
    });
    const map = evidenceMap(pictured(20000, 20000 + 10 * 256, 20000 - 10 * 256, 20000 + 90 * 256), pictured(20000, 20000, 20000, 20000));
    expect([...map.data]).toEqual([255, 191, 191, 0]);
    expect(map.colour).toBeUndefined();
    expect(inventedShare(map)).toBeCloseTo((64 + 64 + 255) / (4 * 255), 6);
  });

  it('tells added colour apart from added light', () => {
    const info = streamInfo({ width: 2, height: 1, chromaShiftX: 0, chromaShiftY: 0 });
    const grey = asColour({ info: { ...info, planes: 1 }, region: wholeRegion(info), planes: [newPlane(2, 1, 20000)] }, info);
    const coloured = {
      ...grey,
      planes: [grey.planes[0], { ...grey.planes[1], data: Uint16Array.from([32768, 32768 + 24 * 256]) }, grey.planes[2]],
    };
    const map = evidenceMap(coloured, { ...grey, info: { ...info, planes: 1 }, planes: [grey.planes[0]] });
    expect([[...map.data], [...(map.colour ?? [])]]).toEqual([
      [255, 255],
      [255, 0],
    ]);
    expect(inventedShare(map)).toBeCloseTo(0.5, 6);
    const pixels = Uint8Array.from([100, 100, 100, 255, 100, 100, 100, 255]);
    paintEvidence(pixels, map);
    expect([...pixels.slice(0, 4)]).toEqual([74, 74, 74, 255]);
    expect(pixels[6]).toBeGreaterThan(pixels[4] + 60);
  });

  it('tells what is another picture’s apart from what was invented', () => {
    const info = streamInfo({ width: 3, height: 1, planes: 1, chromaShiftX: 0, chromaShiftY: 0 });
    const pictured = (...codes: number[]): Picture => ({
      ...{ info, region: wholeRegion(info) },
      planes: [{ width: 3, height: 1, data: Uint16Array.from(codes) }],
    });
    // The middle was sharpened, the last laid in.
    const map = evidenceMap(pictured(20000, 40000, 40000), pictured(20000, 20000, 20000), pictured(20000, 40000, 20000));
    expect([[...map.data], [...(map.own ?? [])]]).toEqual([
      [255, 0, 255],
      [255, 255, 0],
    ]);
    expect(inventedShare(map)).toBeCloseTo(2 / 3, 6);
    const pixels = new Uint8Array(12).fill(100);
    paintEvidence(pixels, map);
    expect([...pixels.slice(4, 7)]).toEqual([232, 140, 24]);
    expect([...pixels.slice(8, 11)]).toEqual([24, 150, 112]);
    expect(ownPlan(planOf(['inlay', {}], ['focus', {}]))).toBeUndefined();
    const held = ownPlan(planOf(['inlay', { picture: 'a'.repeat(64) }], ['focus', { strength: 40 }]));
    expect(held && allSteps(held).map((s) => s.settings)).toMatchObject([{ opacity: 0 }, { strength: 40 }]);
  });

  it('is asked of the steps that can invent: the network of Upscale, and Focus', () => {
    expect(supportedPlan(planOf(['grain', { quality: 'best' }], ['upscale', {}]))).toBeUndefined();
    const held = supportedPlan(planOf(['focus', { quality: 'best' }], ['upscale', { quality: 'best', factor: 3 }]));
    expect(held && allSteps(held).map((s) => s.settings)).toMatchObject([{ strength: 0 }, { quality: 'fast', edges: 0, factor: 3 }]);
  });

  it('is painted in amber over grey', () => {
    const pixels = Uint8Array.from([100, 100, 100, 255, 100, 100, 100, 255]);
    paintEvidence(pixels, { width: 2, height: 1, data: Uint8Array.from([255, 0]) });
    expect([...pixels]).toEqual([74, 74, 74, 255, 232, 140, 24, 255]);
  });
});
