import { describe, expect, it } from 'vitest';
import { type Picture } from '../picture/picture';
import { picture, streamInfo } from '../testing/pictures';
import { measureBars } from './bars';

const info = streamInfo({ width: 160, height: 120 });
const NONE = { left: 0, right: 0, top: 0, bottom: 0 };

const withLuma = (change: (x: number, y: number, v: number) => number, of = info): Picture => {
  const p = picture(of);
  const luma = p.planes[0].data.map((v, i) => change(i % 160, Math.floor(i / 160), v));
  return { ...p, planes: [{ ...p.planes[0], data: luma }, ...p.planes.slice(1)] };
};
/** Black with the noise of a tape. */
const black = (x: number, y: number): number => 4096 + ((x * 31 + y * 17) % 900);

describe('measureBars', () => {
  it('counts black rows and columns, with noise on them', () => {
    const barred = withLuma((x, y, v) => (x < 8 || x >= 150 || y < 12 ? black(x, y) : v));
    expect(measureBars([barred])).toEqual({ left: 8, right: 10, top: 12, bottom: 0 });
    expect(measureBars([picture(info)])).toEqual(NONE);
  });

  it('finds none on a frame that is black all over', () => {
    expect(measureBars([withLuma(() => 4096)])).toEqual(NONE);
  });

  it('holds for the darkest of several frames only what all of them have', () => {
    const wide = withLuma((x, y, v) => (y < 20 || y >= 100 ? 4096 : v)),
      dark = withLuma((x, y) => (y < 60 ? 4096 : 9000));
    expect(measureBars([wide, dark])).toEqual({ ...NONE, top: 20 });
  });

  it('leaves the dark edge of a picture alone: one that grows lighter, one that is thin, one whose picture begins little by little', () => {
    const still = { ...info, frames: 1, colour: { ...info.colour, range: 'full' as const } };
    expect(measureBars([withLuma((x, y, v) => Math.min(v, 500 + 260 * y))])).toEqual(NONE);
    expect(measureBars([withLuma((x, y, v) => (y < 2 ? 0 : v), still)])).toEqual(NONE);
    // A head before a black ground.
    expect(measureBars([withLuma((x, y, v) => (Math.hypot(x - 80, y - 90) < 60 ? v : 4096))])).toEqual(NONE);
  });
});
