import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { streamInfo } from '../../../core/testing/pictures';
import { fractionAt, loupePart, panned, placePicture, visiblePart, zoomAt, type View } from './geometry';

const output = streamInfo({ width: 1440, height: 1080 });
const canvas = { width: 760, height: 560 };
const view: View = { zoom: 1, u: 0.5, v: 0.5 };

describe('the view', () => {
  it('fits the whole picture, in its display shape', () => {
    const at = placePicture(streamInfo({ width: 720, height: 480, pixelAspect: { num: 8, den: 9 } }), canvas, { ...view, zoom: 'fit' });
    expect(at.width / at.height).toBeCloseTo(4 / 3, 6);
    expect(at.x).toBeGreaterThan(0);
    expect(visiblePart(at, canvas)).toEqual({ x: 0, y: 0, width: 1, height: 1 });
  });

  it('shows one screen pixel a picture pixel at 100 %', () => {
    expect(placePicture(output, canvas, view)).toMatchObject({ width: 1440, height: 1080, scale: 1 });
  });

  it('zooms with the point under the pointer held', () => {
    const share = fc.double({ min: 0.3, max: 0.7, noNaN: true });
    fc.assert(
      fc.property(share, share, fc.double({ min: 1, max: 8, noNaN: true }), (px, py, zoom) => {
        const x = px * canvas.width,
          y = py * canvas.height;
        const before = fractionAt(placePicture(output, canvas, view), x, y);
        const after = fractionAt(placePicture(output, canvas, zoomAt(output, canvas, view, x, y, zoom)), x, y);
        expect(after.u).toBeCloseTo(before.u, 6);
        expect(after.v).toBeCloseTo(before.v, 6);
      }),
    );
  });

  it('moves with a drag, and never off the picture', () => {
    const moved = placePicture(output, canvas, panned(output, canvas, view, 40, -30)),
      start = placePicture(output, canvas, view);
    expect([moved.x - start.x, moved.y - start.y].map(Math.round)).toEqual([40, -30]);
    const far = placePicture(output, canvas, panned(output, canvas, view, 99_999, 99_999));
    expect([far.x, far.y].map((n) => Math.abs(n))).toEqual([0, 0]);
  });

  it('keeps the loupe square on the display and inside the picture', () => {
    const part = loupePart(output, 0, 1);
    expect(part.x).toBe(0);
    expect(part.y + part.height).toBeCloseTo(1, 9);
    expect((part.width * 1440) / (part.height * 1080)).toBeCloseTo(1, 9);
  });
});
