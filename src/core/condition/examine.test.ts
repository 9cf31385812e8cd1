import { describe, expect, it } from 'vitest';
import { DIRT_KINDS, type DirtKind } from '../dirt/kinds';
import { CodedError } from '../errors';
import { wholeRegion, type Picture } from '../picture/picture';
import { blockCoded, streamInfo, texturedPlane } from '../testing/pictures';
import type { DirtReading } from './dirt';
import { examine } from './examine';

const info = streamInfo({ width: 160, height: 128, frames: 1, planes: 1, fieldOrder: 'progressive' });

/** The report's step of one picture, whose codec tells of `told`. */
async function coding(step: number, told?: number): Promise<number> {
  const plane = texturedPlane(160, 128);
  const made: Picture = { info, region: wholeRegion(info), planes: [step ? blockCoded(plane, step) : plane] };
  const { measurements } = await examine({ info, key: 'one', codedStep: told, frame: () => Promise.resolve(made) });
  return measurements.coding;
}

describe('the step of the compression', () => {
  it('is what the codec tells, also where no blocks are seen', async () => {
    expect(await coding(0)).toBeLessThan(1);
    expect(await coding(0, 13)).toBe(13);
    expect(await coding(24, 20)).toBe(20);
  });

  it('is measured where no codec tells, or where an earlier one was much coarser', async () => {
    const measured = await coding(40);
    expect(measured).toBeGreaterThan(20);
    expect(await coding(40, 2)).toBe(measured);
  });
});

describe('damage measured in another thread', () => {
  const plain: Picture = { info, region: wholeRegion(info), planes: [texturedPlane(160, 128)] };
  const told: DirtReading = {
    ...{ share: 1.5, sampled: false, sure: 0.7 },
    counts: { ...(Object.fromEntries(DIRT_KINDS.map((kind) => [kind, 0])) as Record<DirtKind, number>), folds: 2 },
  };
  const examined = (dirt: () => Promise<DirtReading>) =>
    examine({ info, key: 'one', frame: () => Promise.resolve(plain) }, { counts: false, dirt });

  it('is what the report says', async () => {
    const { measurements, findings } = await examined(() => Promise.resolve(told));
    expect(measurements.dirt).toEqual(told);
    // What is gravest comes first.
    expect(findings[0]).toMatchObject({ id: 'dirt', reading: '2 folds', severity: 'strong' });
    expect(findings.at(-1)?.severity).toBe('none');
  });

  it('is left out where its network cannot be used, and fails with whatever else went wrong', async () => {
    const { findings } = await examined(() => Promise.reject(new CodedError('network', 'The network is missing.')));
    expect(findings.map(({ id }) => id)).not.toContain('dirt');
    await expect(examined(() => Promise.reject(new CodedError('media', 'It cannot be decoded.')))).rejects.toThrow('cannot be decoded');
  });
});
