import { describe, expect, it } from 'vitest';
import { wholeRegion, type Picture, type StreamInfo } from '../picture/picture';
import { toRgb } from '../picture/matrix';
import { toScreen } from '../picture/screen';
import { CHROMA_SHIFTS, noisyPlane, picture, streamInfo } from '../testing/pictures';
import { runOver, type Step } from '../testing/plans';

const STEPS: Step[] = [
  ['deinterlace', { quality: 'fast' }],
  ['deinterlace', { quality: 'best' }],
  ['grain', { quality: 'fast', luma: 6, chroma: 6 }],
  ['grain', { quality: 'best', luma: 6, chroma: 6 }],
  ['compression', { quality: 'fast', coding: 12 }],
  ['compression', { quality: 'best', coding: 12 }],
  ['focus', { quality: 'fast' }],
  ['focus', { quality: 'best' }],
  ['upscale', { quality: 'fast', target: 'factor', factor: 1.5 }],
  ['upscale', { quality: 'best', target: 'factor', factor: 2 }],
  ['regrain', {}],
  ['crop', { left: 6, top: 10 }],
  ['fit', { mode: 'bars', width: 160, height: 120 }],
];

const NAMED = STEPS.map((step): [string, Step] => [[step[0], step[1]?.quality].join(' '), step]);

const stream = (chromaShiftX: number, chromaShiftY: number): StreamInfo =>
  streamInfo({ width: 118, height: 82, chromaShiftX, chromaShiftY, frames: 5 });

/** Moving texture in one colour all over. */
function coloured(info: StreamInfo, n: number): Picture {
  const plain = picture(info, n);
  const [luma, ...chroma] = plain.planes;
  return {
    ...plain,
    planes: [noisyPlane(luma, 400, n), ...chroma.map((plane, i) => ({ ...plane, data: plane.data.map(() => (i ? 41000 : 25000)) }))],
  };
}

describe.each(CHROMA_SHIFTS)('chroma of shifts %i and %i', (shiftX, shiftY) => {
  const info = stream(shiftX, shiftY);

  it('is shown on its own pixels', () => {
    const shown = toScreen(picture(info)),
      rgb = toRgb(picture(info), 8);
    for (let i = 0; i < info.width * info.height; i++)
      for (let c = 0; c < 3; c++) expect(Math.abs(shown[4 * i + c] - rgb[3 * i + c])).toBeLessThanOrEqual(1);
  });

  it.each(NAMED)('%s keeps its colour', async (_, step) => {
    const run = runOver(info, (n) => coloured(info, n), step);
    const n = run.stream.frames >> 1;
    const made = await run.frame(n, wholeRegion(run.stream));
    const black = step[0] === 'fit' ? 32768 : undefined;
    for (const [i, plane] of made.planes.slice(1).entries())
      // The networks are told of grain that is not there, and may be wrong by a few codes; a sample out of place is by far more.
      for (const v of plane.data) if (v !== black) expect(Math.abs(v - (i ? 41000 : 25000))).toBeLessThan(1500);
  });

  it.each(NAMED)('%s gives a part what the whole has there', async (_, step) => {
    const of = (region?: { x: number; y: number; width: number; height: number }): Promise<Picture> => {
      const run = runOver(info, (n) => picture(info, n), step);
      return run.frame(run.stream.frames >> 1, region ?? wholeRegion(run.stream));
    };
    const region = { x: 40, y: 32, width: 36, height: 28 };
    const [whole, part] = [await of(), await of(region)];
    for (const [i, plane] of part.planes.entries()) {
      const sx = i ? whole.info.chromaShiftX : 0,
        sy = i ? whole.info.chromaShiftY : 0;
      const full = whole.planes[i];
      for (let y = 0; y < plane.height; y++)
        expect(plane.data.subarray(y * plane.width, (y + 1) * plane.width)).toEqual(
          full.data.subarray(((region.y >> sy) + y) * full.width + (region.x >> sx)).subarray(0, plane.width),
        );
    }
  });
});
