import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SAME_PLACE, scaling } from '../../shared/maps/place';
import { readStroke, type StrokeMark } from '../../shared/marks';
import { compile } from '../graph/graph';
import { PictureCache } from '../graph/cache';
import { cutPicture, insideFrame, planeRegion, regionsMeet, wholeRegion, type Picture, type StreamInfo } from '../picture/picture';
import { normalStream } from '../picture/random';
import { emptyPlan, type PlanStep } from '../../shared/plan';
import { CHROMA_SHIFTS, picture, streamInfo } from '../testing/pictures';
import { strokesFor, strokeWindow } from './mendStrokes';
import { laidStrokes, strokeCover } from './strokes';

const mark = (more: Partial<StrokeMark> = {}): StrokeMark => ({
  ...{ id: 'a', use: 'heal', on: true, size: 10, softness: 0 },
  points: [{ x: 60, y: 50 }],
  ...more,
});

const still = (part: Partial<StreamInfo> = {}): StreamInfo =>
  streamInfo({ width: 192, height: 144, frames: 1, chromaShiftX: 0, chromaShiftY: 0, ...part });

/** The result of Heal with such marks, as the graph gives a part of it. */
function healed(source: Picture, marks: StrokeMark[], settings: Record<string, unknown> = {}) {
  const step: PlanStep = {
    id: 'heal',
    treatment: 'heal',
    on: true,
    settings: { quality: 'fast', amount: 100, ...settings },
    marks: 'f'.repeat(64),
  };
  const { info } = source;
  const graph = compile(
    emptyPlan([step]),
    { info, key: 'still', frame: (_, region) => Promise.resolve(cutPicture(source, region)) },
    { cache: new PictureCache(0), marks: () => Promise.resolve(marks) },
  );
  return (region = wholeRegion(info)): Promise<Picture> => graph.output.frame(0, region);
}

describe('strokes in the picture of a node', () => {
  it('lie where its geometry has them', () => {
    const [stroke] = laidStrokes([mark({ from: { x: 8, y: 0 } })], ['heal'], scaling(2, 2, 20, 10));
    expect(stroke).toMatchObject({ points: [{ x: 20, y: 20 }], size: 5, from: { x: 4, y: 0 } });
    expect(laidStrokes([mark({ on: false }), mark({ use: 'keep' })], ['heal'], SAME_PLACE)).toEqual([]);
  });

  it('cover their brush', () => {
    const [stroke] = laidStrokes(
      [
        mark({
          points: [
            { x: 20, y: 20 },
            { x: 40, y: 20 },
          ],
        }),
      ],
      ['heal'],
      SAME_PLACE,
    );
    const cover = strokeCover(stroke, { x: 0, y: 0, width: 64, height: 40 });
    const area = cover.reduce((sum, v) => sum + v, 0);
    expect(area / (10 * 20 + Math.PI * 25)).toBeCloseTo(1, 1);
    expect([cover[20 * 64 + 30], cover[20 * 64 + 50], cover[27 * 64 + 30]]).toEqual([1, 0, 0]);
  });

  it('depend on earlier ones that touch what they look at, and on no others', () => {
    const laid = laidStrokes(
      [
        mark({ id: 'far', points: [{ x: 900, y: 900 }] }),
        mark({ id: 'near', points: [{ x: 80, y: 50 }] }),
        mark({ id: 'here' }),
        mark({ id: 'later', points: [{ x: 82, y: 50 }] }),
      ],
      ['heal'],
      SAME_PLACE,
    );
    const frame = { width: 1000, height: 1000 };
    const { strokes, reach } = strokesFor(laid, { x: 50, y: 40, width: 10, height: 10 }, frame);
    expect(strokes.map((s) => s.mark.id)).toEqual(['near', 'here']);
    for (const stroke of strokes)
      expect(strokeWindow(stroke, frame)).toEqual(insideFrame(strokeWindow(stroke, frame), reach.x === 0 ? frame : frame));
    expect(regionsMeet(reach, { x: 900, y: 900, width: 1, height: 1 })).toBe(false);
  });
});

describe('Heal', () => {
  it('fills what is marked and leaves all else, chroma of any grain too', async () => {
    for (const [chromaShiftX, chromaShiftY] of CHROMA_SHIFTS) {
      const info = still({ chromaShiftX, chromaShiftY });
      const source = picture(info);
      const luma = source.planes[0].data;
      for (let y = 47; y < 54; y++) for (let x = 57; x < 64; x++) luma[y * info.width + x] = 65000;
      const made = await healed(source, [mark({ size: 14 })])();
      const changed = made.planes.map((plane, p) => {
        const { width } = planeRegion(info, p, wholeRegion(info));
        return [...plane.data].flatMap((v, i) =>
          v === source.planes[p].data[i]
            ? []
            : [{ x: (i % width) << (p && chromaShiftX), y: Math.floor(i / width) << (p && chromaShiftY) }],
        );
      });
      expect(changed[0].length).toBeGreaterThan(49);
      for (const { x, y } of changed.flat())
        expect(Math.hypot(x - 60, y - 50)).toBeLessThan(9 + (2 << Math.max(chromaShiftX, chromaShiftY)));
      const truth = picture(info).planes[0].data;
      expect(Math.abs(made.planes[0].data[50 * info.width + 60] - truth[50 * info.width + 60]) / 256).toBeLessThan(40);
    }
  });

  it('gives a part as it gives the whole, whatever strokes lie over one another', async () => {
    const source = picture(still());
    const point = fc.record({ x: fc.integer({ min: -4, max: 195 }), y: fc.integer({ min: -4, max: 148 }) });
    const stroke = fc.record({
      points: fc.array(point, { minLength: 1, maxLength: 3 }),
      size: fc.integer({ min: 2, max: 24 }),
      softness: fc.constantFrom(0, 0.5),
      use: fc.constantFrom('heal' as const, 'remove' as const),
      from: fc.option(
        point.map(({ x, y }) => ({ x: x >> 2, y: y >> 2 })),
        { nil: undefined },
      ),
    });
    await fc.assert(
      fc.asyncProperty(
        fc.array(stroke, { minLength: 1, maxLength: 4 }),
        fc.integer({ min: 0, max: 120 }),
        fc.integer({ min: 0, max: 80 }),
        async (strokes, x, y) => {
          const frame = healed(
            source,
            strokes.map((s, n) => mark({ ...s, id: `${n}` })),
          );
          const part = { x, y, width: 50, height: 40 };
          const region = (await frame(part)).region;
          expect((await frame(region)).planes).toEqual(cutPicture(await frame(), region).planes);
        },
      ),
      { numRuns: 12 },
    );
  });

  it('copies from where a mark says, in the light of its rim', async () => {
    const info = still({ planes: 1 });
    const source = picture(info);
    const { data } = source.planes[0];
    data.forEach((_, i) => (data[i] = 20000 + 60 * (i % info.width) + ((i % info.width) % 8 < 4 ? 3000 : 0)));
    const truth = data.slice();
    for (let y = 40; y < 60; y++) for (let x = 52; x < 68; x++) data[y * info.width + x] = 0;
    const { planes } = await healed(source, [mark({ size: 30, from: { x: 48, y: 0 } })])();
    for (let y = 42; y < 58; y++)
      for (let x = 53; x < 67; x++) expect(Math.abs(planes[0].data[y * info.width + x] - truth[y * info.width + x])).toBeLessThan(1500);
  });

  it('leaves a loss in the tone of its rim, with its grain and nothing else', async () => {
    const info = still({ planes: 1 });
    const source = picture(info);
    const normal = normalStream(2);
    const { data } = source.planes[0];
    data.forEach((_, i) => (data[i] = Math.round(33000 + 900 * normal())));
    for (let y = 45; y < 56; y++) for (let x = 55; x < 66; x++) data[y * info.width + x] = 0;
    const { planes } = await healed(source, [mark({ use: 'tone', size: 24 })])();
    const made: number[] = [];
    for (let y = 45; y < 56; y++) for (let x = 55; x < 66; x++) made.push(planes[0].data[y * info.width + x]);
    const mean = made.reduce((a, b) => a + b, 0) / made.length;
    expect(Math.abs(mean - 33000)).toBeLessThan(400);
    const deviation = Math.sqrt(made.reduce((sum, v) => sum + (v - mean) ** 2, 0) / made.length);
    expect(deviation / 900).toBeCloseTo(1, 0);
  });

  it('leaves the picture at no amount, and without marks', async () => {
    const source = picture(still());
    expect((await healed(source, [mark()], { amount: 0 })()).planes).toEqual(source.planes);
    expect((await healed(source, [])()).planes).toEqual(source.planes);
  });
});

describe('a stroke from outside', () => {
  it('is read with nothing else in it', () => {
    const read = readStroke({ ...mark({ from: { x: 1, y: 2 }, answer: 2 }), other: 1 });
    expect(read).toEqual({ mark: mark({ from: { x: 1, y: 2 }, answer: 2 }) });
  });

  it.each([
    ['an id', { id: '../x' }],
    ['for one of', { use: 'paint' as never }],
    ['1 to 5000 points', { points: [] }],
    ['1 to 5000 points', { points: [{ x: NaN, y: 1 }] }],
    ['pixels wide', { size: 0 }],
    ['softness', { softness: 2 }],
    ['3 answers', { answer: 3 }],
    ['copies from', { from: { x: 1e9, y: 0 } }],
    ['on or off', { on: 1 as never }],
  ])('is refused: %s', (words, wrong) => {
    expect((readStroke(mark(wrong)) as { problem: string }).problem).toContain(words);
  });
});
