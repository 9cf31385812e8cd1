import { describe, expect, it } from 'vitest';
import { colourDifference, labOf } from './colourDifference';

describe('CIEDE2000', () => {
  // Of the test data of Sharma, Wu and Dalal (2005), with the pairs at which implementations differ.
  it.each([
    [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
    [50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0],
    [50, 0, 0, 50, -1, 2, 2.3669],
    [50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792],
    [50, 2.49, -0.001, 50, -2.49, 0.0011, 7.2195],
    [50, -0.001, 2.49, 50, 0.0011, -2.49, 4.7461],
    [50, 2.5, 0, 50, 0, -2.5, 4.3065],
    [50, 2.5, 0, 73, 25, -18, 27.1492],
    [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
    [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.263],
    [22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373],
    [90.8027, -2.0831, 1.441, 91.1528, -1.6435, 0.0447, 1.4441],
    [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
  ])('of %f %f %f and %f %f %f', (...row) => {
    const [one, other] = [0, 3].map((from) => ({ l: row[from], a: row[from + 1], b: row[from + 2] }));
    const difference = row[6];
    expect(colourDifference(one, other)).toBeCloseTo(difference, 3);
    expect(colourDifference(other, one)).toBeCloseTo(difference, 3);
  });
});

describe('L*a*b*', () => {
  it('of white, of red and of a dark grey are the published ones', () => {
    const close = (got: ReturnType<typeof labOf>, l: number, a: number, b: number): void => {
      expect(got.l).toBeCloseTo(l, 1);
      expect(got.a).toBeCloseTo(a, 1);
      expect(got.b).toBeCloseTo(b, 1);
    };
    close(labOf(1, 1, 1), 100, 0, 0);
    close(labOf(1, 0, 0), 53.24, 80.09, 67.2);
    close(labOf(0.005, 0.005, 0.005), 4.52, 0, 0);
  });
});
