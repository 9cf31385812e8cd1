import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { scaling, SAME_PLACE, type Projective } from '../maps/place';
import { planOf } from '../../core/testing/plans';
import { paintStrokes, touches, type Stroke } from './brush';
import { readMask, type Mask, type Shape } from './mask';
import { movedShape } from './shapes';
import { levelsOf, NOTHING_PAINTED, TILE, tileName, type PaintedStore } from './painted';
import { maskValues } from './values';

const SOURCE = { width: 80, height: 60 };
const WHOLE = { x: 0, y: 0, ...SOURCE };
const BOX = { kind: 'box', x: 0.25, y: 0.25, width: 0.5, height: 0.5 };

const part = (shape: object, combine = 'add'): object => ({ shape, combine });
const mask = (...parts: object[]): Mask => maskWith({}, ...parts);
function maskWith(more: object, ...parts: object[]): Mask {
  const result = readMask({ parts: parts.length ? parts : [part(BOX)], ...more });
  if ('problems' in result) throw new Error(result.problems.join());
  return result.mask;
}
const values = (m: Mask, place: Projective = SAME_PLACE, region = WHOLE, painted: PaintedStore = NOTHING_PAINTED): Promise<Float32Array> =>
  maskValues(m, { source: SOURCE, place, region, painted });

describe('a mask', () => {
  it('is 1 in its shapes, 0 away from them, and half on their edge', async () => {
    const box = await values(maskWith({ feather: 0.1 }));
    const at = (v: Float32Array, x: number, y: number): number => v[y * SOURCE.width + x];
    expect([at(box, 40, 30), at(box, 5, 5)]).toEqual([1, 0]);
    // Half a pixel inside the box's edge at 20, of a transition of 6 pixels.
    expect(at(box, 20, 30)).toBeCloseTo(0.5 + 0.5 / 6, 5);
    const oval = await values(maskWith({ feather: 0 }, part({ ...BOX, kind: 'oval' })));
    expect([at(oval, 40, 30), at(oval, 21, 16)]).toEqual([1, 0]);
    expect(oval.reduce((a, b) => a + b) / (Math.PI * 20 * 15)).toBeCloseTo(1, 1);
  });

  it('of a polygon covers what its corners enclose, by the even-odd rule', async () => {
    const corners = [
      { x: 0.25, y: 0.25 },
      { x: 0.75, y: 0.25 },
      { x: 0.75, y: 0.75 },
      { x: 0.25, y: 0.75 },
    ];
    const same = await values(maskWith({ feather: 0.05 }, part({ kind: 'polygon', corners })));
    const box = await values(maskWith({ feather: 0.05 }));
    // Alike but for the rounding of a box's corners.
    same.forEach((v, i) => expect(Math.abs(v - box[i])).toBeLessThan(0.21));
    const bow = await values(
      maskWith({ feather: 0 }, part({ kind: 'polygon', corners: [corners[0], corners[2], corners[3], corners[1]] })),
    );
    const at = (x: number, y: number): number => bow[y * SOURCE.width + x];
    expect([at(40, 20), at(40, 40), at(24, 30), at(56, 30)].map(Math.round)).toEqual([1, 1, 0, 0]);
  });

  it('of a gradient goes evenly from full to nothing', async () => {
    const straight = await values(mask(part({ kind: 'straight', from: { x: 0.25, y: 0.5 }, to: { x: 0.75, y: 0.5 } })));
    const row = [...straight.subarray(30 * 80, 31 * 80)];
    expect([row[0], row[19], row[60], row[79]]).toEqual([1, 1, 0, 0]);
    expect(row[39] + row[40]).toBeCloseTo(1, 5);
    row.forEach((v, i) => expect(v).toBeLessThanOrEqual(i ? row[i - 1] : 1));
    const round = await values(mask(part({ kind: 'radial', x: 0.25, y: 0.25, width: 0.5, height: 0.5, core: 0.5 })));
    const middle = [...round.subarray(30 * 80, 31 * 80)];
    expect([middle[40], middle[31], middle[19]]).toEqual([1, 1, 0]);
    expect(middle[24]).toBeGreaterThan(0.2);
  });

  it('turns a shape about its middle', async () => {
    const tall = await values(maskWith({ feather: 0 }, part({ kind: 'box', x: 0.375, y: 0.1, width: 0.25, height: 0.8, turn: 90 })));
    const at = (x: number, y: number): number => tall[y * SOURCE.width + x];
    expect([at(20, 30), at(40, 10)]).toEqual([1, 0]);
  });

  it('adds, takes away and keeps in common', async () => {
    const left = part({ kind: 'box', x: 0, y: 0, width: 0.6, height: 1 });
    const right = { kind: 'box', x: 0.4, y: 0, width: 0.6, height: 1 };
    const at = async (combine: string): Promise<number[]> => {
      const row = (await values(maskWith({ feather: 0 }, left, part(right, combine)))).subarray(0, 80);
      return [row[10], row[40], row[70]];
    };
    expect(await at('add')).toEqual([1, 1, 1]);
    expect(await at('subtract')).toEqual([1, 0, 0]);
    expect(await at('intersect')).toEqual([0, 1, 0]);
    expect(readMask({ parts: [part(BOX, 'subtract')] })).toEqual({ problems: [expect.stringContaining('nothing before it') as string] });
  });

  it('inverted is what it leaves, and its opacity holds for all of it', async () => {
    const inside = await values(maskWith({ feather: 0.1 })),
      outside = await values(maskWith({ feather: 0.1, inverse: true })),
      faint = await values(maskWith({ feather: 0.1, inverse: true, opacity: 40 }));
    inside.forEach((v, i) => expect(v + outside[i]).toBeCloseTo(1, 6));
    outside.forEach((v, i) => expect(faint[i]).toBeCloseTo(0.4 * v, 6));
  });

  it('of a part of the frame is the part of the mask of the whole', async () => {
    const all = maskWith(
      { feather: 0.2 },
      part(BOX),
      part({ kind: 'radial', x: 0, y: 0, width: 0.7, height: 0.9, core: 0.2 }),
      part({ kind: 'straight', from: { x: 0, y: 0 }, to: { x: 1, y: 0.7 } }, 'subtract'),
    );
    const whole = await values(all);
    await fc.assert(
      fc.asyncProperty(
        fc.nat(60),
        fc.nat(40),
        fc.integer({ min: 1, max: 19 }),
        fc.integer({ min: 1, max: 19 }),
        async (x, y, width, height) => {
          const own = await values(all, SAME_PLACE, { x, y, width, height });
          for (let i = 0; i < own.length; i++) expect(own[i]).toBe(whole[(y + Math.floor(i / width)) * SOURCE.width + x + (i % width)]);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('stays on its place in the source when the frame is cropped, enlarged or turned', async () => {
    const whole = await values(maskWith({ feather: 0.1 }));
    const cropped = await values(maskWith({ feather: 0.1 }), scaling(1, 1, 12, 8), { x: 0, y: 0, width: 50, height: 40 });
    for (let y = 0; y < 40; y++) for (let x = 0; x < 50; x++) expect(cropped[y * 50 + x]).toBe(whole[(y + 8) * 80 + x + 12]);
    const turned = await values(maskWith({ feather: 0.1 }), [0, 1, 0, -1, 0, 60, 0, 0, 1], { x: 0, y: 0, width: 60, height: 80 });
    for (let y = 0; y < 80; y++) for (let x = 0; x < 60; x++) expect(turned[y * 60 + x]).toBeCloseTo(whole[(59 - x) * 80 + y], 5);
  });

  it.each<[string, object]>([
    ['no parts', { parts: [] }],
    ['a shape nobody knows', { parts: [part({ kind: 'star', x: 0, y: 0 })] }],
    ['no shape', { parts: [{ combine: 'add' }] }],
    ['a place far outside', { parts: [part({ ...BOX, x: 7 })] }],
    ['no size', { parts: [part({ ...BOX, width: 0 })] }],
    ['two corners', { parts: [part({ kind: 'polygon', corners: [BOX, BOX] })] }],
    ['a document that is none', { parts: [part({ kind: 'painted', document: '../../etc/passwd' })] }],
    ['a feather of a word', { parts: [part(BOX)], feather: 'very' }],
    ['something else beside', { parts: [part(BOX)], colour: 'red' }],
  ])('with %s is refused in words', (_, given) => {
    const result = readMask(given);
    expect('problems' in result && result.problems[0]).toMatch(/^mask: .{8}/);
  });

  it('is refused by a step that changes the whole picture', () => {
    expect(() => planOf(['upscale', {}, { parts: [part(BOX)] }])).toThrow(
      /Step 1, Upscale: it changes the whole picture and takes no mask/,
    );
  });

  it('moves with all of its shape', () => {
    const { shape } = mask(part({ kind: 'polygon', corners: [BOX, BOX, BOX].map(({ x, y }) => ({ x, y })) })).parts[0];
    expect((movedShape(shape, 0.5, -0.25) as Extract<Shape, { kind: 'polygon' }>).corners[2]).toMatchObject({ x: 0.75, y: 0 });
  });
});

/** Painted documents in memory. */
class Canvas implements PaintedStore {
  tiles: Record<string, string> = {};
  private readonly bytes = new Map<string, Uint8Array>();
  constructor(private readonly size: { width: number; height: number }) {}
  document = () => Promise.resolve({ format: 'wairetic-painted' as const, version: 1 as const, ...this.size, tiles: this.tiles });
  tile = (hash: string) => Promise.resolve(this.bytes.get(hash) as Uint8Array);
  async paint(stroke: Partial<Stroke>): Promise<string[]> {
    const full = { points: [], size: 20, softness: 0, flow: 1, mode: 'add' as const, ...stroke };
    const read = (name: string) => Promise.resolve(this.tiles[name] ? this.bytes.get(this.tiles[name]) : undefined);
    const changed = await paintStrokes([full], this.size, read);
    for (const [name, tile] of changed) {
      const hash = createHash('sha256').update(tile).digest('hex');
      this.bytes.set(hash, tile);
      this.tiles[name] = hash;
    }
    return [...changed.keys()];
  }
}

const at = (x: number, y: number, pressure = 1): { x: number; y: number; pressure: number } => ({ x, y, pressure });
const painted = (x = 0, y = 0): Mask => maskWith({ feather: 0 }, part({ kind: 'painted', document: 'a'.repeat(64), x, y }));

describe('the brush', () => {
  it('covers a disc, and the eraser takes it away again', async () => {
    const canvas = new Canvas(SOURCE);
    await canvas.paint({ points: [at(40, 30)], size: 20 });
    const disc = await values(painted(), SAME_PLACE, WHOLE, canvas);
    expect(disc.reduce((a, b) => a + b) / (Math.PI * 100)).toBeCloseTo(1, 1);
    await canvas.paint({ points: [at(40, 30)], size: 24, mode: 'erase' });
    expect((await values(painted(), SAME_PLACE, WHOLE, canvas)).every((v) => v === 0)).toBe(true);
  });

  it('builds up with flow and pressure, and fades with softness', async () => {
    const over = async (stroke: Partial<Stroke>): Promise<Float32Array> => {
      const canvas = new Canvas(SOURCE);
      await canvas.paint(stroke);
      return values(painted(), SAME_PLACE, WHOLE, canvas);
    };
    const middle = 30 * 80 + 40;
    const half = await over({ points: [at(40, 30)], flow: 0.5 }),
      light = await over({ points: [at(40, 30, 0.5)], flow: 0.5 });
    expect(half[middle]).toBeCloseTo(0.5, 2);
    expect(light[middle]).toBeCloseTo(0.25, 2);
    const soft = await over({ points: [at(40, 30)], size: 40, softness: 1 });
    expect(soft[middle]).toBeGreaterThan(0.95);
    expect(soft[middle + 10]).toBeCloseTo(0.5, 1);
  });

  it('touches evenly along its way, however many points it came in', () => {
    const line = (count: number) => touches({ size: 10, points: Array.from({ length: count }, (_, i) => at((100 * i) / (count - 1), 0)) });
    expect(line(2).length).toBe(101);
    expect(Math.abs(line(30).length - line(2).length)).toBeLessThanOrEqual(1);
    line(30).forEach((p, i, all) => i && expect(p.x - all[i - 1].x).toBeCloseTo(1, 6));
  });

  it('changes only the tiles it touches, across their borders, and their smaller copies', async () => {
    const size = { width: 3000, height: 2000 };
    const canvas = new Canvas(size);
    expect(levelsOf(size)).toBe(5);
    const changed = await canvas.paint({ points: [at(TILE, 100), at(TILE + 30, 100)], size: 60 });
    expect(changed.toSorted()).toEqual([
      tileName(0, 0, 0),
      tileName(0, 1, 0),
      tileName(1, 0, 0),
      tileName(2, 0, 0),
      tileName(3, 0, 0),
      tileName(4, 0, 0),
    ]);
    const view = (place: Projective, region: typeof WHOLE) => maskValues(painted(), { source: size, place, region, painted: canvas });
    // Over the border between the tiles the stroke has no seam.
    const row = [...(await view(SAME_PLACE, { x: TILE - 20, y: 100, width: 60, height: 1 }))];
    expect(row.every((v) => v === 1)).toBe(true);
    // From afar the smallest copy is read: as much is covered.
    const near = (await view(SAME_PLACE, { x: 200, y: 40, width: 160, height: 120 })).reduce((a, b) => a + b),
      far = (await view(scaling(16, 16), { x: 0, y: 0, width: 187, height: 125 })).reduce((a, b) => a + b);
    expect((far * 256) / near).toBeCloseTo(1, 1);
  });

  it('gets a soft edge as wide as it is told, half way at its outline, the same in every part', async () => {
    const size = { width: 900, height: 600 };
    const canvas = new Canvas(size);
    // A bar from left to right, its edges at 200 and 400.
    for (let y = 220; y <= 380; y += 10) await canvas.paint({ points: [at(-60, y), at(960, y)], size: 40 });
    // 60 pixels are worked on the painted pixels, 240 on a smaller copy.
    for (const [feather, near] of [
      [0.05, 0.06],
      [0.1, 0.06],
    ]) {
      const soft: Mask = { ...painted(), feather };
      const view = (region: typeof WHOLE) => maskValues(soft, { source: size, place: SAME_PLACE, region, painted: canvas });
      const column = [...(await view({ x: 450, y: 0, width: 1, height: 600 }))];
      expect(column[300]).toBeCloseTo(1, 2);
      for (const edge of [200, 400]) expect(Math.abs((column[edge - 1] + column[edge]) / 2 - 0.5)).toBeLessThan(near);
      const width = feather * size.height;
      expect(column[Math.round(200 - width / 2 - 4)]).toBeLessThan(0.02);
      expect(column[Math.round(200 + width / 2 + 4)]).toBeGreaterThan(0.98);
      for (let y = 1; y < 300; y++) expect(column[y]).toBeGreaterThanOrEqual(column[y - 1] - 1e-6);
      const whole = await view({ x: 0, y: 0, ...size }),
        part = await view({ x: 243, y: 177, width: 90, height: 70 });
      part.forEach((v, i) => expect(v).toBe(whole[(177 + Math.floor(i / 90)) * 900 + 243 + (i % 90)]));
    }
  });

  it('moved lies beside where it was painted', async () => {
    const canvas = new Canvas(SOURCE);
    await canvas.paint({ points: [at(20, 20)], size: 16 });
    const moved = await values(painted(0.5, 0.25), SAME_PLACE, WHOLE, canvas);
    expect([moved[35 * 80 + 60], moved[20 * 80 + 20]]).toEqual([1, 0]);
  });
});
