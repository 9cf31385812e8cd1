import { describe, expect, it } from 'vitest';
import { scaling } from '../../../shared/maps/place';
import type { StrokeMark } from '../../../shared/marks';
import { placeAround } from './answers';

const mark = (points: StrokeMark['points'], size: number): StrokeMark => ({ id: 'm', use: 'remove', on: true, points, size, softness: 0 });

describe('the part shown round a mark', () => {
  it('holds the mark with room on every side', () => {
    const place = placeAround(mark([{ x: 500, y: 300 }], 200), scaling(1, 1), { width: 1000, height: 800 });
    expect(place.x).toBeCloseTo(0.28);
    expect(place.width).toBeCloseTo(0.44);
    expect(place.y).toBeCloseTo(0.1);
    expect(place.height).toBeCloseTo(0.55);
  });

  it('stays within the picture, and follows it where the plan enlarges or cuts', () => {
    const output = { width: 800, height: 600 };
    // The output is twice as large and begins at 100, 50 of the source.
    const place = placeAround(mark([{ x: 110, y: 60 }], 20), scaling(0.5, 0.5, 100, 50), output);
    expect([place.x, place.y]).toEqual([0, 0]);
    expect(place.width).toBeCloseTo((40 + 60) / 800);
    expect(place.height).toBeCloseTo((40 + 60) / 600);
  });
});
