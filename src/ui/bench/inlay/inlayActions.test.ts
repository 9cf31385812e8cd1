import { describe, expect, it } from 'vitest';
import { laidIn, nearestPlace, outlineOf, placeAtFirst, placeSettings, withHeld } from './inlayActions';

const placing = { picture: 'picture', shape: 'shape', x: 'x', y: 'y', width: 'width', turn: 'turn' };
const laid = { width: 400, height: 300 };
const step = (settings: Record<string, unknown>) => ({ id: 's', treatment: 'inlay', on: true, settings });

describe('a picture that is laid in', () => {
  it('lies in the middle at first, all of it in the picture', () => {
    expect(placeAtFirst(laid, { width: 1000, height: 800 })).toEqual({ x: 500, y: 400, width: 500, turn: 0 });
    expect(placeAtFirst({ width: 300, height: 1200 }, { width: 1000, height: 800 }).width).toBe(100);
  });

  it('keeps the point that is not moved, and goes to where the other is', () => {
    const now = laidIn(step({ picture: 'a', shape: 'oval', x: 500, y: 400, width: 200, turn: 10 }), placing);
    const { held } = outlineOf(now, laid);
    const place = withHeld(now, laid, 1, { x: held[1].x + 40, y: held[1].y - 25 });
    const after = outlineOf({ ...now, place }, laid).held;
    expect(after[0].x).toBeCloseTo(held[0].x, 6);
    expect(after[0].y).toBeCloseTo(held[0].y, 6);
    expect(after[1].x).toBeCloseTo(held[1].x + 40, 6);
    expect(after[1].y).toBeCloseTo(held[1].y - 25, 6);
    expect(withHeld(now, laid, 1, held[0])).toBe(now.place);
  });

  it('has its place in the settings, in thousandths of a pixel', () => {
    expect(placeSettings({ x: 1.23456, y: 2, width: 0.2, turn: -3 }, placing)).toEqual({ x: 1.235, y: 2, width: 1, turn: -3 });
  });

  it('goes onto the face that is nearest', () => {
    const places = [10, 200, 90].map((x) => ({ x, y: 50, width: 40, turn: 0 }));
    expect(nearestPlace(places, { x: 100, y: 0 })?.x).toBe(90);
    expect(nearestPlace([], { x: 0, y: 0 })).toBeUndefined();
  });
});
