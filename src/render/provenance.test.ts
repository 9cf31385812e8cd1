import { describe, expect, it } from 'vitest';
import { networkCard, type NetworkName } from '../core';
import { streamInfo } from '../core/testing/pictures';
import { planOf } from '../core/testing/plans';
import { networksUsed } from './provenance';

const clip = streamInfo({ width: 720, height: 480, frames: 50, fieldOrder: 'top-first' });

describe('the record of networks', () => {
  it('names each with the step it worked and the checksum of its file', () => {
    const plan = planOf(
      ['deinterlace', { quality: 'best' }],
      ['compression', { quality: 'best' }],
      ['grain', { quality: 'best' }],
      ['upscale', { quality: 'best', target: 'factor', factor: 2, content: 'drawn', grain: 2 }],
    );
    expect(networksUsed(plan, clip).map(({ step, name }) => [plan.steps.findIndex((s) => s.id === step), name])).toEqual([
      [0, 'fields'],
      [1, 'temporal'],
      [2, 'temporal'],
      [3, 'enlarge-drawn'],
      [3, 'clean'],
    ]);
    for (const { name, sha256 } of networksUsed(plan, clip)) expect(sha256).toBe(networkCard(name as NetworkName).sha256);
  });

  it('is empty for fast choices and for steps that are off', () => {
    const plan = planOf(['deinterlace'], ['grain', { quality: 'best' }]);
    plan.steps[1].on = false;
    expect(networksUsed(plan, clip)).toEqual([]);
  });
});
