import { describe, expect, it } from 'vitest';
import { newPlane } from '../picture/picture';
import { planOf } from '../testing/plans';
import { evidenceMap, inventedShare, paintEvidence, supportedPlan } from './evidence';
import { allSteps } from '../../shared/plan';

describe('evidence', () => {
  it('is whole where result and source agree, and falls with what was added', () => {
    const supported = newPlane(4, 1, 20000);
    const result = newPlane(4, 1, 20000);
    result.data.set([20000, 20000 + 10 * 256, 20000 - 10 * 256, 20000 + 90 * 256]);
    const map = evidenceMap(result, supported);
    expect([...map.data]).toEqual([255, 191, 191, 0]);
    expect(inventedShare(map)).toBeCloseTo((64 + 64 + 255) / (4 * 255), 6);
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
