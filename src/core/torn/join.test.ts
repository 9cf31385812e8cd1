import { describe, expect, it } from 'vitest';
import { psnr } from '../metrics/metrics';
import { cutPlane, newPlane, wholeRegion, type Picture, type StreamInfo } from '../picture/picture';
import { streamInfo, texturedPlane } from '../testing/pictures';
import { fitPieces } from './fit';
import { joinHalves } from './join';
import { findPieces } from './pieces';

const WIDTH = 420,
  HEIGHT = 330,
  PRINT = { width: 240, height: 180, left: 60, top: 40 };
const info: StreamInfo = streamInfo({ width: WIDTH, height: HEIGHT, frames: 1, planes: 1, chromaShiftX: 0, chromaShiftY: 0 });
const GROUND = 62000;

const print = texturedPlane(PRINT.width, PRINT.height);
/** Where the tear runs across the print, at a place sideways. */
const tear = (x: number): number => 95 + 9 * Math.sin(x / 17) + 5 * Math.sin(x / 5.3 + 1) + 0.08 * x;

/** A scan of the print's upper half in its place, and of the lower half turned and moved. */
function scan(turn: number, right: number, down: number): Picture {
  const plane = newPlane(WIDTH, HEIGHT, GROUND);
  const middle = { x: 120, y: 140 };
  for (let y = 0; y < HEIGHT; y++) {
    for (let x = 0; x < WIDTH; x++) {
      const px = x - PRINT.left,
        py = y - PRINT.top;
      const inside = (a: number, b: number): boolean => a >= 0 && b >= 0 && a < PRINT.width && b < PRINT.height;
      if (inside(px, py) && py < tear(px)) plane.data[y * WIDTH + x] = print.data[py * PRINT.width + px];
      // The lower half, from where it lies back to where it was.
      const dx = px - middle.x - right,
        dy = py - middle.y - down;
      const ox = Math.round(dx * Math.cos(turn) + dy * Math.sin(turn) + middle.x),
        oy = Math.round(dy * Math.cos(turn) - dx * Math.sin(turn) + middle.y);
      if (inside(ox, oy) && oy >= tear(ox)) plane.data[y * WIDTH + x] = print.data[oy * PRINT.width + ox];
    }
  }
  return { info, region: wholeRegion(info), planes: [plane] };
}

describe('torn halves', () => {
  it('are found as two pieces before the ground', () => {
    const { pieces } = findPieces(scan(0.05, 12, 46).planes);
    expect(pieces).toHaveLength(2);
    expect(pieces[0].pixels + pieces[1].pixels).toBeGreaterThan(0.9 * PRINT.width * PRINT.height);
    expect(findPieces([newPlane(200, 150, GROUND)]).pieces).toEqual([]);
  });

  it.each([
    [0, 0, 40],
    [0.05, 12, 46],
    [-0.12, -15, 50],
  ])('turned by %f and moved by %f, %f are laid together', async (turn, right, down) => {
    const torn = scan(turn, right, down);
    const movement = fitPieces(findPieces(torn.planes));
    expect(Math.abs((movement?.turn ?? 9) + turn)).toBeLessThan(0.02);
    const joined = await joinHalves(torn, { right: 0, down: 0, turn: 0 }, 'fast');
    if (!joined) throw new Error('not joined');
    const made = cutPlane(joined.planes[0], PRINT.left, PRINT.top, PRINT.width, PRINT.height);
    const before = cutPlane(torn.planes[0], PRINT.left, PRINT.top, PRINT.width, PRINT.height);
    expect(psnr(made, print, 65535, 6)).toBeGreaterThan(psnr(before, print, 65535, 6) + 8);
    expect(psnr(made, print, 65535, 6)).toBeGreaterThan(24);
  });

  it('are moved on by hand', async () => {
    const torn = scan(0, 0, 40);
    const [as, moved] = await Promise.all([0, 5].map((down) => joinHalves(torn, { right: 0, down, turn: 0 }, 'fast')));
    const row = (picture: Picture | undefined, y: number): number[] => [
      ...(picture?.planes[0].data.subarray(y * WIDTH + 100, y * WIDTH + 200) ?? []),
    ];
    const lower = PRINT.top + 150;
    expect(row(moved, lower + 5).reduce((sum, v, i) => sum + Math.abs(v - row(as, lower)[i]), 0) / 100).toBeLessThan(600);
  });

  it('that are not two are told', async () => {
    const plane = newPlane(WIDTH, HEIGHT, GROUND);
    expect(await joinHalves({ info, region: wholeRegion(info), planes: [plane] }, { right: 0, down: 0, turn: 0 }, 'fast')).toBeUndefined();
  });
});
