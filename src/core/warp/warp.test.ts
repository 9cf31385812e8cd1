import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pointAt } from '../../shared/maps/place';
import { psnr } from '../metrics/metrics';
import { cutPicture, growRegion, newPlane, wholeRegion, type Picture } from '../picture/picture';
import { picture, streamInfo } from '../testing/pictures';
import { turn, turnedPlace, TurnSettings } from '../treatments/turn/turn';
import { findPapers } from './findPaper';
import { rectangleTo, trueShape, type Quadrilateral } from './quadrilateral';
import { warped, warpedFrom, WARP_BORDER } from './warp';

const still = (width: number, height: number, shift = 0): Picture =>
  picture(streamInfo({ width, height, frames: 1, chromaShiftX: shift, chromaShiftY: shift }));
const turned = (source: Picture, given: Partial<TurnSettings>): Picture => {
  const settings = { ...new TurnSettings(), ...given };
  const output = turn.output(source.info, settings);
  return warped(source, wholeRegion(output), turnedPlace(settings, source.info), output, settings.beyond);
};

describe('turning', () => {
  it('by quarters loses nothing, and four of them give the picture back', () => {
    for (const shift of [0, 1]) {
      const source = still(48, 32, shift);
      const right = turned(source, { quarters: '90' });
      expect([right.region.width, right.region.height]).toEqual([32, 48]);
      // The lower left corner comes to lie at the upper left.
      expect(right.planes[0].data[0]).toBe(source.planes[0].data[31 * 48]);
      const back = turned(right, { quarters: '270' });
      back.planes.forEach((plane, p) => expect(plane.data).toEqual(source.planes[p].data));
      const half = turned(turned(source, { quarters: '180' }), { quarters: '180' });
      half.planes.forEach((plane, p) => expect(plane.data).toEqual(source.planes[p].data));
    }
  });

  it('mirrors to either side', () => {
    const source = still(40, 24);
    const across = turned(source, { mirrored: 'across' }).planes[0].data;
    expect(across[0]).toBe(source.planes[0].data[39]);
    const down = turned(source, { mirrored: 'down' }).planes[0].data;
    expect(down[0]).toBe(source.planes[0].data[23 * 40]);
  });

  it('there and back by some degrees is nearly the same', () => {
    const source = still(160, 120);
    const there = turned(source, { angle: 7, edges: 'keep' });
    const back = turned(there, { angle: -7, edges: 'keep' });
    const x = (back.region.width - 160) / 2,
      y = (back.region.height - 120) / 2;
    const middle = cutPicture(back, { x, y, width: 160, height: 120 });
    expect(psnr(middle.planes[0], source.planes[0], 65535, 12)).toBeGreaterThan(38);
  });

  it('cuts to what has no empty corners', () => {
    const source = still(160, 120);
    source.planes[0].data.fill(30_000);
    fc.assert(
      fc.property(fc.integer({ min: -44, max: 44 }), (angle) => {
        const made = turned(source, { angle, edges: 'cut', beyond: 'black' });
        expect(made.planes[0].data.every((v) => v === 30_000)).toBe(true);
        if (Math.abs(angle) < 5) expect(made.region.width * made.region.height).toBeGreaterThan(0.7 * 160 * 120);
      }),
    );
  });

  it('of any part is that of the whole', () => {
    const source = still(120, 96);
    const settings = { ...new TurnSettings(), angle: 11.3 };
    const output = turn.output(source.info, settings),
      place = turnedPlace(settings, source.info);
    const whole = warped(source, wholeRegion(output), place, output, 'white');
    fc.assert(
      fc.property(fc.nat(40), fc.nat(30), (x, y) => {
        const region = { x, y, width: 30, height: 24 };
        const own = growRegion(warpedFrom(region, place, source.info), WARP_BORDER, 1, source.info);
        const part = warped(cutPicture(source, own), region, place, output, 'white');
        expect(part.planes[0].data).toEqual(cutPicture(whole, region).planes[0].data);
      }),
      { numRuns: 30 },
    );
  });
});

const CORNERS: Quadrilateral = [
  { x: 90.3, y: 61.7 },
  { x: 401.2, y: 82.4 },
  { x: 388.9, y: 301.6 },
  { x: 71.4, y: 284.2 },
];

describe('perspective', () => {
  it('takes the corners of a rectangle to those of the paper', () => {
    const place = rectangleTo(CORNERS, 300, 200);
    const taken = [
      [0, 0],
      [300, 0],
      [300, 200],
      [0, 200],
    ].map(([x, y]) => pointAt(place, x, y));
    taken.forEach((p, i) => {
      expect(p.x).toBeCloseTo(CORNERS[i].x, 6);
      expect(p.y).toBeCloseTo(CORNERS[i].y, 6);
    });
  });

  it('reckons the true shape of paper seen at a slant', () => {
    // A sheet of 3 by 2 before a lens of focal length 900 at the frame's middle, tilted about both axes.
    const focal = 900,
      frame = { width: 1200, height: 900 };
    const [a, b] = [0.5, 0.35];
    const seen = [
      [-1.5, -1],
      [1.5, -1],
      [1.5, 1],
      [-1.5, 1],
    ].map(([x, y]) => {
      const y1 = y * Math.cos(a),
        z1 = y * Math.sin(a);
      const x2 = x * Math.cos(b) + z1 * Math.sin(b),
        z2 = -x * Math.sin(b) + z1 * Math.cos(b) + 6;
      return { x: 600 + (focal * x2) / z2, y: 450 + (focal * y1) / z2 };
    }) as unknown as Quadrilateral;
    expect(trueShape(seen, frame)).toBeCloseTo(1.5, 2);
    expect(
      trueShape(
        [
          { x: 0, y: 0 },
          { x: 90, y: 0 },
          { x: 90, y: 60 },
          { x: 0, y: 60 },
        ],
        frame,
      ),
    ).toBeCloseTo(1.5, 6);
  });

  it('finds the corners of paper before an even ground to a part of a pixel', () => {
    const luma = newPlane(480, 360);
    const inside = (x: number, y: number): boolean =>
      CORNERS.every((p, i) => {
        const q = CORNERS[(i + 1) % 4];
        return (q.x - p.x) * (y - p.y) - (q.y - p.y) * (x - p.x) > 0;
      });
    luma.data.forEach((_, i) => {
      let sum = 0;
      for (let k = 0; k < 16; k++)
        sum += inside((i % 480) + ((k & 3) + 0.5) / 4, Math.floor(i / 480) + ((k >> 2) + 0.5) / 4) ? 52_000 : 14_000;
      luma.data[i] = sum / 16;
    });
    const [paper, ...others] = findPapers(luma);
    expect(others).toEqual([]);
    paper.forEach((p, i) => expect(Math.hypot(p.x - CORNERS[i].x, p.y - CORNERS[i].y)).toBeLessThan(0.5));
    expect(findPapers(newPlane(200, 160, 20_000))).toEqual([]);
  });
});
