import { describe, expect, it } from 'vitest';
import type { Fading } from '../../condition/fading';
import { wholeRegion } from '../../picture/picture';
import { CHROMA_SHIFTS, picture, streamInfo } from '../../testing/pictures';
import { runOver } from '../../testing/plans';
import { reportOf } from '../../testing/reports';
import { tone } from './tone';

const info = streamInfo({ width: 96, height: 72, frames: 1 });
const EVEN = { across: 0, down: 0, corners: 0 };
const FADED: Fading = { left: [0.6, 0.8, 0.9], base: [0, 0.2, 0.6], uneven: EVEN };
const CREAM: Fading = { left: [1, 1, 1], base: [0.1, 0.3, 0.9], uneven: EVEN };

describe('the tone that is proposed', () => {
  const on = (fading: Fading | undefined, more = {}): boolean | undefined =>
    tone.propose(reportOf({ ...(fading && { fading }), ...more }), info)?.on;

  it('gives back what has faded', () => {
    expect(on(FADED)).toBe(true);
    expect(tone.propose(reportOf({ fading: FADED }), info)?.settings).toMatchObject({
      cyan: 60,
      magenta: 80,
      yellow: 90,
      red: 0,
      green: 0.2,
      blue: 0.6,
    });
  });

  it('waits for the restorer where only the paper is not white, where little is lost, and on monochrome prints', () => {
    expect(on(CREAM)).toBe(false);
    expect(on({ ...FADED, left: [0.85, 0.9, 0.95] })).toBe(false);
    expect(on({ ...FADED, base: [0, 0.1, 0.2] })).toBe(false);
    expect(on(FADED, { monochrome: true })).toBe(false);
  });

  it('leaves the tone of a monochrome print', () => {
    const settings = tone.propose(reportOf({ fading: FADED, monochrome: true }), info)?.settings;
    expect(new Set([settings?.cyan, settings?.magenta, settings?.yellow]).size).toBe(1);
    expect(new Set([settings?.red, settings?.green, settings?.blue]).size).toBe(1);
  });

  it('is offered for any still, and not for films', () => {
    expect(on(undefined, { scan: 'still' })).toBe(false);
    expect(on(undefined)).toBeUndefined();
  });
});

describe.each(CHROMA_SHIFTS)('a picture whose chroma is 2^%i and 2^%i times as coarse', (chromaShiftX, chromaShiftY) => {
  const own = { ...info, chromaShiftX, chromaShiftY };
  const whole = picture(own);

  it('is left where nothing is set', async () => {
    const made = await runOver(own, () => whole, ['tone', {}]).frame(0, wholeRegion(own));
    made.planes.forEach((plane, n) => expect(plane.data.every((v, i) => v === whole.planes[n].data[i])).toBe(true));
  });

  it('grows lighter as a whole, in any part as in the whole', async () => {
    const run = runOver(own, () => whole, ['tone', { light: 0.5 }]);
    const made = await run.frame(0, wholeRegion(own));
    expect(made.planes[0].data.every((v, i) => v >= whole.planes[0].data[i])).toBe(true);
    const part = await run.frame(0, { x: 32, y: 24, width: 32, height: 16 });
    for (let y = 0; y < 16; y++)
      for (let x = 0; x < 32; x++) expect(part.planes[0].data[y * 32 + x]).toBe(made.planes[0].data[(y + 24) * 96 + x + 32]);
  });
});
