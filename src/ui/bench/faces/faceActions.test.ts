import { describe, expect, it } from 'vitest';
import { scaling } from '../../../shared/maps/place';
import type { PlanDescription } from '../../../archive';
import type { StreamInfo } from '../../../core';
import { faceInOutput, listedFaces, withAmount } from './faceActions';

const source = { width: 400, height: 200 };
const found = [
  { x: 0.1, y: 0.2, width: 0.1, height: 0.2, pixels: 40, yaw: 0 },
  { x: 0.6, y: 0.2, width: 0.05, height: 0.1, pixels: 20, yaw: 10 },
];

describe('the list of faces', () => {
  it('begins with the smallest, with what is said of each', () => {
    const faces = listedFaces(found, '0.15,0.3,40 0.9,0.5,70,0.02', source);
    expect(faces.map(({ pixels, amount }) => [pixels, amount])).toEqual([
      [8, 70],
      [20, 100],
      [40, 40],
    ]);
    expect(faces[0].box.height).toBeCloseTo(0.04);
  });

  it('takes another amount for one and leaves the others', () => {
    const faces = listedFaces(found, '', source);
    const one = withAmount('', faces[0], 30);
    expect(one).toBe('0.625,0.25,30');
    const both = withAmount(one, listedFaces(found, one, source)[1], 0);
    expect(listedFaces(found, both, source).map(({ amount }) => amount)).toEqual([30, 0]);
    expect(withAmount(both, listedFaces(found, both, source)[1], 100)).toBe(one);
    const added = '0.9,0.5,70,0.02';
    const [hand] = listedFaces([], added, source);
    expect(withAmount(added, hand, 100)).toBe('0.9,0.5,100,0.02');
    expect(withAmount(added, hand, undefined)).toBe('');
  });

  it('finds a face in what a plan gives', () => {
    // Twice as large, after 40 pixels were cut off at the left.
    const output = { width: 720, height: 400 } as StreamInfo;
    const description = { source, geometry: scaling(0.5, 0.5, 40, 0) } as unknown as PlanDescription;
    const [small, large] = listedFaces(found, '', source);
    const at = faceInOutput({ description, output }, large, 0);
    expect(at?.x).toBeCloseTo(0);
    expect(at?.width).toBeCloseTo(40 / 360);
    expect(faceInOutput({ description, output }, { ...small, box: { ...small.box, x: -0.2 } }, 0)).toBeUndefined();
  });
});
