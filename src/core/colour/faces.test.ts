import path from 'node:path';
import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { chosen, CLASSES, doubtOf } from './classes';
import type { Gathered } from './guess';
import { tellingOf } from './known';
import { type FaceOutlines, facesOn, tellFaces } from './faces';
import { lumaAt, type Tones } from './tones';

const box = (left: number, top: number, right: number, bottom: number): FaceOutlines['face'] => [
  [
    { x: left, y: top },
    { x: right, y: top },
    { x: right, y: bottom },
    { x: left, y: bottom },
  ],
];
const ALONE = { lips: [], eyes: [], clothes: [] };
const FACE: FaceOutlines = { ...ALONE, hair: box(0.3, 0.1, 0.7, 0.3), face: box(0.3, 0.3, 0.7, 0.7), neck: box(0.4, 0.7, 0.6, 0.9) };

/** Tells faces. @returns how far each place is known. */
function told(gathered: Gathered, tones: Tones, faces: readonly FaceOutlines[]): Float32Array {
  const telling = tellingOf(gathered);
  const { width, height } = gathered;
  tellFaces(telling, { width, height, luma: lumaAt(tones, width, height) }, faces);
  return telling.known;
}

/** Places that may have any colour at all, those near grey likelier. */
function undecided(width: number, height: number): Gathered {
  const odds = CLASSES.map(({ cb, cr }) => Math.exp(-(cb * cb + cr * cr) / (2 * 40 ** 2)));
  const all = odds.reduce((sum, v) => sum + v, 0);
  const likely = new Float32Array(width * height * CLASSES.length);
  likely.forEach((_, i) => (likely[i] = odds[i % CLASSES.length] / all));
  return { width, height, likely };
}

const placeOf = ({ width, likely }: Gathered, x: number, y: number): Float32Array =>
  likely.subarray((y * width + x) * CLASSES.length, (y * width + x + 1) * CLASSES.length);

/** Tones of a face, of one lightness above it and another below. */
function lit(above: number, below: number): Tones {
  const luma = Uint8Array.from({ length: 1600 }, (_, i) => (i < 12 * 40 ? above : i < 28 * 40 ? 150 : below));
  return { width: 40, height: 40, luma, own: 'none', kept: new Uint8Array(1600) };
}

describe('what faces tell', () => {
  it('gives what nothing else is known of the colour of skin, in less doubt, and leaves what lies elsewhere', () => {
    const gathered = undecided(40, 40);
    const before = Float32Array.from(placeOf(gathered, 2, 20));
    const known = told(gathered, lit(40, 150), [FACE]);
    for (const y of [20, 32]) {
      const { cb, cr } = chosen(placeOf(gathered, 20, y), 'likely');
      expect(cb).toBeGreaterThan(-17);
      expect(cb).toBeLessThan(-11);
      expect(cr).toBeGreaterThan(18);
      expect(cr).toBeLessThan(25);
      expect(doubtOf(placeOf(gathered, 20, y))).toBeLessThan(0.6 * doubtOf(before));
      expect(known[y * 40 + 20]).toBeGreaterThan(0.8);
    }
    expect(Array.from(placeOf(gathered, 2, 20))).toEqual(Array.from(before));
    expect(known[20 * 40 + 2]).toBe(0);
  });

  it('gives dark hair its brown, and says nothing of what is light above a face, or of a collar or a beard below', () => {
    const gathered = undecided(40, 40);
    told(gathered, lit(40, 150), [FACE]);
    const { cb, cr } = chosen(placeOf(gathered, 20, 8), 'likely');
    expect(cb).toBeLessThan(-4);
    expect(cr).toBeGreaterThan(7);
    for (const below of [30, 220]) {
      const known = told(undecided(40, 40), lit(150, below), [FACE]);
      expect(known[8 * 40 + 20]).toBe(0);
      expect(known[32 * 40 + 20]).toBe(0);
    }
  });

  it('gives lips their red and eyes less of it where they are large enough, and dark clothes hardly any colour', () => {
    const face = { ...FACE, lips: box(0.42, 0.58, 0.58, 0.64), eyes: box(0.35, 0.4, 0.48, 0.46), clothes: box(0.1, 0.75, 0.9, 1) };
    const gathered = undecided(40, 40);
    told(gathered, lit(60, 40), [face]);
    const at = (x: number, y: number) => chosen(placeOf(gathered, x, y), 'likely');
    const skin = at(24, 22);
    expect(at(20, 24).cr).toBeGreaterThan(skin.cr + 4);
    expect(at(16, 17).cr).toBeLessThan(skin.cr - 6);
    expect(Math.hypot(at(10, 36).cb, at(10, 36).cr)).toBeLessThan(5);
    const small = undecided(20, 20);
    told(small, lit(60, 40), [{ ...face, lips: box(0.45, 0.58, 0.55, 0.64) }]);
    expect(chosen(placeOf(small, 10, 12), 'likely').cr).toBeCloseTo(chosen(placeOf(small, 12, 12), 'likely').cr, 3);
    const light = undecided(40, 40);
    expect(told(light, lit(60, 140), [face])[36 * 40 + 6]).toBe(0);
  });

  it('says nothing by a face that lies beside the picture', () => {
    const away = box(1.3, 0.3, 1.7, 0.7);
    const face = { ...FACE, face: away, clothes: box(0.1, 0.75, 0.9, 1) };
    expect(Math.max(...told(undecided(40, 40), lit(60, 40), [face]))).toBe(0);
  });

  it('keeps the skin of a face that another one’s hair lies over, whichever was found first', () => {
    const above: FaceOutlines = { ...ALONE, hair: box(0.3, 0, 0.7, 0.02), face: box(0.3, 0.02, 0.7, 0.25), neck: box(0.4, 0.25, 0.6, 0.3) };
    const likelihoods = [
      [FACE, above],
      [above, FACE],
    ].map((faces) => {
      const gathered = undecided(40, 40);
      told(gathered, lit(60, 150), faces);
      return Array.from(placeOf(gathered, 20, 6));
    });
    expect(likelihoods[0]).toEqual(likelihoods[1]);
    expect(chosen(likelihoods[0], 'likely').cr).toBeGreaterThan(18);
  });

  it('leaves a thing that is surely of another colour, as a painted face is', () => {
    const gathered = undecided(40, 40);
    const blue = CLASSES.findIndex(({ cb, cr }) => cb === 60 && cr === -24);
    const here = placeOf(gathered, 20, 20);
    here.fill(0);
    here[blue] = 1;
    told(gathered, lit(40, 150), [FACE]);
    expect(placeOf(gathered, 20, 20)[blue]).toBeCloseTo(1, 5);
  });

  it('leaves likelihoods that add up to 1, however faces lie over one another and over the border', () => {
    const at = fc.record({ x: fc.double({ min: -0.5, max: 0.9, noNaN: true }), y: fc.double({ min: -0.5, max: 0.9, noNaN: true }) });
    const moved = (corners: FaceOutlines['face'], dx: number, dy: number): FaceOutlines['face'] =>
      corners.map((outline) => outline.map(({ x, y }) => ({ x: x + dx, y: y + dy })));
    fc.assert(
      fc.property(fc.array(at, { maxLength: 3 }), (places) => {
        const gathered = undecided(40, 40);
        const faces = places.map(({ x, y }) => ({
          ...ALONE,
          face: moved(FACE.face, x, y),
          neck: moved(FACE.neck, x, y),
          hair: moved(FACE.hair, x, y),
        }));
        const known = told(gathered, lit(60, 150), faces);
        for (let i = 0; i < 1600; i += 7) {
          const sum = placeOf(gathered, i % 40, Math.floor(i / 40)).reduce((all, v) => all + v, 0);
          expect(sum).toBeCloseTo(1, 3);
          expect(known[i]).toBeGreaterThanOrEqual(0);
          expect(known[i]).toBeLessThanOrEqual(1);
        }
      }),
      { numRuns: 20 },
    );
  });
});

const PLATES = path.resolve(import.meta.dirname, '../../../demo/plates');

/** A plate on a raster of tones. @param cut in fractions, so that a face may fill it. */
async function tonesIn(name: string, cut = { left: 0, top: 0, width: 1, height: 1 }): Promise<Tones> {
  const { width: w = 0, height: h = 0 } = await sharp(path.join(PLATES, name)).metadata();
  const [left, width] = [cut.left, cut.width].map((v) => Math.round(v * w)),
    [top, height] = [cut.top, cut.height].map((v) => Math.round(v * h));
  const { data, info } = await sharp(path.join(PLATES, name))
    .extract({ left, top, width, height })
    .resize({ width: 480, height: 480, fit: 'inside' })
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const luma = Uint8Array.from({ length: info.width * info.height }, (_, i) => data[i * info.channels]);
  return { width: info.width, height: info.height, luma, own: 'none', kept: new Uint8Array(luma.length) };
}

it('faces are found on a monochrome raster, small ones of a group and one that fills the picture', async () => {
  expect(await facesOn(await tonesIn('family.png'))).toHaveLength(8);
  const portrait = await facesOn(await tonesIn('portrait.png'));
  expect(portrait).toHaveLength(1);
  const [xs, ys] = (['x', 'y'] as const).map((axis) => portrait[0].face[0].map((corner) => corner[axis]));
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const close = { left, top, width: right - left, height: bottom - top };
  expect(await facesOn(await tonesIn('portrait.png', close))).toHaveLength(1);
});
