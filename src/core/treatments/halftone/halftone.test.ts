import { describe, expect, it } from 'vitest';
import { cutPicture, growRegion, wholeRegion } from '../../picture/picture';
import type { Ink, InkScreen } from '../../halftone/inks';
import { contextOf } from '../../testing/context';
import { pageOf } from '../../testing/page';
import { picture, streamInfo } from '../../testing/pictures';
import { reportOf } from '../../testing/reports';
import { halftone, HalftoneSettings } from './halftone';

const settings = (part: Partial<HalftoneSettings>): HalftoneSettings => Object.assign(new HalftoneSettings(), part);

describe('Halftone', () => {
  const info = streamInfo({ width: 420, height: 330 });
  const source = picture(info);

  it.each(['screen', 'inks', 'surface', 'rings'] as const)('works on a part as on the whole: %s', async (pattern) => {
    const chosen = settings({ pattern, period: 7, angle: 30 });
    const whole = await halftone.apply([source], chosen, contextOf(info, wholeRegion(info)));
    const region = { x: 150, y: 120, width: 60, height: 50 };
    const { border, grid } = halftone.needs(chosen, info);
    const seen = growRegion(region, border, grid, info);
    const part = await halftone.apply([cutPicture(source, seen)], chosen, contextOf(info, region));
    expect(cutPicture(part, region).planes).toEqual(cutPicture(whole, region).planes);
  });

  it('leaves what is not printed with the screen as it is, in the fast way too', async () => {
    const { picture: page } = pageOf({ width: 420, height: 160, period: 5, angles: { black: 38 } });
    // Type stands at the right, as sharp as it was set.
    const type = (i: number): boolean => i % 420 > 210;
    const planes = page.planes.map((plane, n) => ({
      ...plane,
      data: plane.data.map((v, i) => (type(i) ? (n ? 32768 : (i % 420) % 17 < 3 ? 9000 : 58000) : v)),
    }));
    const region = wholeRegion(page.info);
    const { planes: made } = await halftone.apply([{ ...page, planes }], settings({ period: 5, angle: 38 }), contextOf(page.info, region));
    const changed = (from: number, to: number): number =>
      made[0].data.reduce((sum, v, i) => sum + (i % 420 >= from && i % 420 < to ? Math.abs(v - planes[0].data[i]) : 0), 0);
    expect(changed(290, 420)).toBe(0);
    expect(changed(0, 130) / (130 * 160)).toBeGreaterThan(5000);
  });

  const screen = (ink: Ink, angle: number, swing = 50): InkScreen => ({ ink, angle, period: 5.02, strength: 30, swing });
  const proposed = (screens: InkScreen[]) => halftone.propose(reportOf({ screens }), info)?.settings;

  it('is proposed with the inks that were found, the others at their usual angles from black', () => {
    expect(proposed([screen('black', 65), screen('magenta', 4.96)])).toEqual({
      ...{ pattern: 'inks', period: 5, angle: 65 },
      ...{ cyan: 35, magenta: 5, yellow: 20 },
    });
    expect(proposed([screen('cyan', 15), screen('yellow', 0)])).toMatchObject({ angle: 45, magenta: 75 });
  });

  it('is proposed for one ink, for what lies over the picture, and not without a screen', () => {
    expect(proposed([screen('black', 38)])).toEqual({ pattern: 'screen', period: 5, angle: 38 });
    expect(proposed([screen('black', 38, 4)])).toEqual({ pattern: 'surface', period: 5, angle: 38 });
    expect(proposed([])).toBeUndefined();
  });

  it('is proposed for one ink from a report of before, which does not name it', () => {
    expect(halftone.propose(reportOf({ screens: [{ angle: 38, period: 5.02, strength: 30, swing: 50 }] }), info)?.settings).toEqual({
      ...{ pattern: 'screen', period: 5, angle: 38 },
    });
  });
});
