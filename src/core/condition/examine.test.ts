import { describe, expect, it } from 'vitest';
import { wholeRegion, type Picture } from '../picture/picture';
import { blockCoded, streamInfo, texturedPlane } from '../testing/pictures';
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
