import { describe, expect, it } from 'vitest';
import { streamInfo } from '../../testing/pictures';
import { byFactor, byName, byPrint } from './target';

const ntsc = streamInfo({ width: 720, height: 480, pixelAspect: { num: 8, den: 9 } });
const pal = streamInfo({ width: 720, height: 576, pixelAspect: { num: 16, den: 15 } });
const wide = streamInfo({ width: 720, height: 576, pixelAspect: { num: 64, den: 45 } });
const print = streamInfo({ width: 1200, height: 1800, frames: 1, rate: { num: 0, den: 1 } });

describe('sizes to reach', () => {
  it('are right for the pixel aspects of DVD and DV', () => {
    expect(byName(ntsc, '1080p')).toEqual({ width: 1440, height: 1080 });
    expect(byName(pal, '1080p')).toEqual({ width: 1440, height: 1080 });
    expect(byName(wide, '1080p')).toEqual({ width: 1920, height: 1080 });
    expect(byName(ntsc, '720p')).toEqual({ width: 960, height: 720 });
    expect(byName(wide, '4320p')).toEqual({ width: 7680, height: 4320 });
    expect(byFactor(ntsc, 1)).toEqual({ width: 640, height: 480 });
  });

  it('turn the box for upright prints and reckon print sizes in pixels an inch', () => {
    expect(byName(print, '1080p')).toEqual({ width: 1080, height: 1620 });
    // 25.4 cm at 300 ppi are 3,000 px.
    expect(byPrint(print, 25.4, 300)).toEqual({ width: 3000, height: 4500 });
  });

  it('refuse what is absurd', () => {
    expect(() => byPrint(print, 300, 1200)).toThrow('the limit is');
  });
});
