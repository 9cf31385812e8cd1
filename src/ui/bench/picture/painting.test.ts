import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { streamInfo } from '../../../core/testing/pictures';
import { placePicture } from './geometry';
import { panesFor, roomFor, type Comparison } from './painting';

const canvas = { width: 760, height: 560 };
const output = streamInfo({ width: 1440, height: 1080 });
const place = (room: typeof canvas) => placePicture(output, room, { zoom: 1, u: 0.4, v: 0.6 });
const split: Comparison = { mode: 'split', holding: false, split: 0.25, way: 'upright' };

describe('panesFor', () => {
  it('divides the canvas at the line, whichever way it runs, with one picture beneath both', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.constantFrom('upright', 'level' as const), (at, way) => {
        const { source, result } = panesFor({ ...split, split: at, way: way }, canvas, place);
        expect(source?.at).toEqual(result?.at);
        const area = (source?.clip.width ?? 0) * (source?.clip.height ?? 0) + (result?.clip.width ?? 0) * (result?.clip.height ?? 0);
        expect(area).toBe(canvas.width * canvas.height);
        if (way === 'level') expect(result?.clip.y).toBe(source?.clip.height);
        else expect(result?.clip.x).toBe(source?.clip.width);
      }),
    );
  });

  it('shows both side by side at the same place and size', () => {
    const { source, result } = panesFor({ ...split, mode: 'pair' }, canvas, place);
    const room = roomFor('pair', canvas);
    expect(source?.clip.width).toBe(room.width);
    expect(result?.clip.x).toBe(room.width + 4);
    expect((result?.at.x ?? 0) - (source?.at.x ?? 0)).toBe(result?.clip.x);
    expect(result?.at.width).toBe(source?.at.width);
  });

  it('shows one of them alone where the other is held, or where they are compared in time or by difference', () => {
    for (const mode of ['single', 'difference', 'flicker'] as const) {
      expect(Object.keys(panesFor({ ...split, mode }, canvas, place))).toEqual(['result']);
      expect(Object.keys(panesFor({ ...split, mode, holding: true }, canvas, place))).toEqual(['source']);
    }
    expect(Object.keys(panesFor({ ...split, holding: true }, canvas, place))).toEqual(['source']);
  });
});
