import { describe, expect, it } from 'vitest';
import type { StrokeMark } from '../../../shared/marks';
import { emptyPlan, type PlanStep } from '../../../shared/plan';
import { findDirt, findingSize } from '../../dirt/find';
import { PictureCache } from '../../graph/cache';
import { compile, type Graph } from '../../graph/graph';
import { EVEN_ODDS } from '../../networks/odds';
import { cutPicture, wholeRegion, type Picture, type StreamInfo } from '../../picture/picture';
import { randomStream } from '../../picture/random';
import { streamInfo, texturedPlane } from '../../testing/pictures';
import { reportOf } from '../../testing/reports';
import { dirt, DirtSettings, dirtRule } from './dirt';

const WIDTH = 560,
  HEIGHT = 340;
const info: StreamInfo = streamInfo({
  width: WIDTH,
  height: HEIGHT,
  frames: 1,
  planes: 1,
  chromaShiftX: 0,
  chromaShiftY: 0,
  colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
});

/** A soft picture, and specks of dust over it, some across the raster's lines at 256. */
function dusty(): { clean: Picture; dirty: Picture; specks: { x: number; y: number }[] } {
  const soft = texturedPlane(WIDTH / 4, Math.ceil(HEIGHT / 4));
  const plane = { width: WIDTH, height: HEIGHT, data: new Uint16Array(WIDTH * HEIGHT) };
  plane.data.forEach((_, i) => {
    const x = (i % WIDTH) / 4,
      y = Math.floor(i / WIDTH) / 4;
    const [a, b] = [Math.floor(x), Math.floor(y)];
    const at = (u: number, v: number): number => soft.data[Math.min(soft.height - 1, v) * soft.width + Math.min(soft.width - 1, u)];
    const above = at(a, b) + (at(a + 1, b) - at(a, b)) * (x - a),
      below = at(a, b + 1) + (at(a + 1, b + 1) - at(a, b + 1)) * (x - a);
    plane.data[i] = Math.round(above + (below - above) * (y - b));
  });
  const random = randomStream(4);
  const specks = Array.from({ length: 24 }, (_, n) =>
    n < 4 ? { x: 254 + n, y: 40 + 70 * n } : { x: 12 + random() * (WIDTH - 24), y: 12 + random() * (HEIGHT - 24) },
  );
  const data = plane.data.slice();
  for (const { x, y } of specks) {
    for (let j = -4; j <= 4; j++)
      for (let i = -4; i <= 4; i++) if (Math.hypot(i, j) < 3) data[Math.round(y + j) * WIDTH + Math.round(x + i)] = 63000;
  }
  const of = (d: Uint16Array): Picture => ({ info, region: wholeRegion(info), planes: [{ ...plane, data: d }] });
  return { clean: of(plane.data), dirty: of(data), specks };
}

function graphOf(picture: Picture, settings: Partial<DirtSettings>, marks: StrokeMark[] = []): Graph {
  const step: PlanStep = {
    id: 'dirt',
    treatment: 'dirt',
    on: true,
    settings: { ...new DirtSettings(), ...settings },
    ...(marks.length && { marks: 'a'.repeat(64) }),
  };
  const source = { info, key: 'dusty', frame: (_: number, region: Picture['region']) => Promise.resolve(cutPicture(picture, region)) };
  return compile(emptyPlan([step]), source, { cache: new PictureCache(0), marks: () => Promise.resolve(marks) });
}

const stroke = (use: 'keep' | 'damage' | 'stain', x: number, y: number, size: number): StrokeMark => ({
  id: `${use}${x}`,
  use,
  on: true,
  points: [{ x, y }],
  size,
  softness: 0,
});

describe('Dirt', () => {
  const { clean, dirty, specks } = dusty();

  it.each(['fast', 'best'] as const)('%s mends specks, and the rest stays to the bit', async (quality) => {
    const graph = graphOf(dirty, { quality });
    const made = (await graph.output.frame(0, wholeRegion(info))).planes[0].data;
    const { mask, counts, share } = (await graph.node('dirt')?.found?.(0, wholeRegion(info))) ?? {
      mask: new Uint8Array(),
      counts: [],
      share: 0,
    };
    const near = (i: number): boolean => specks.some((s) => Math.hypot(s.x - (i % WIDTH), s.y - Math.floor(i / WIDTH)) < 3);
    const [before, after] = [dirty.planes[0].data, made].map((d) =>
      d.reduce((sum, v, i) => sum + (near(i) ? Math.abs(v - clean.planes[0].data[i]) : 0), 0),
    );
    expect(after).toBeLessThan(0.25 * before);
    made.forEach((v, i) => mask[i] || expect(v).toBe(dirty.planes[0].data[i]));
    expect(counts.reduce((sum, c) => sum + c.count, 0)).toBeGreaterThan(15);
    expect(share).toBeLessThan(0.02);
  });

  it.each(['fast', 'best'] as const)('%s gives a part as it gives the whole', async (quality) => {
    const whole = await graphOf(dirty, { quality }).output.frame(0, wholeRegion(info));
    for (const part of [
      { x: 200, y: 20, width: 120, height: 90 },
      { x: 0, y: 200, width: 300, height: 140 },
    ]) {
      expect((await graphOf(dirty, { quality }).output.frame(0, part)).planes).toEqual(cutPicture(whole, part).planes);
    }
  });

  it('is looked for at half the size in large pictures, and in a part as in the whole', async () => {
    const whole = await findDirt(dirty, wholeRegion(info), { size: 'half' });
    const part = { x: 101, y: 43, width: 300, height: 161 };
    const { odds, kind } = await findDirt(dirty, part, { size: 'half' });
    for (let y = 0; y < part.height; y++) {
      const at = (part.y + y) * WIDTH + part.x;
      expect(odds.subarray(y * part.width, (y + 1) * part.width)).toEqual(whole.odds.subarray(at, at + part.width));
      expect(kind.subarray(y * part.width, (y + 1) * part.width)).toEqual(whole.kind.subarray(at, at + part.width));
    }
    const onSpecks = specks.filter((s) => whole.odds[Math.round(s.y) * WIDTH + Math.round(s.x)] > EVEN_ODDS);
    expect(onSpecks.length).toBeGreaterThan(15);
    expect([
      findingSize('fast', { width: 4000, height: 3000 }),
      findingSize('best', { width: 4000, height: 3000 }),
      findingSize('fast', info),
    ]).toEqual(['half', 'full', 'full']);
  });

  it('keeps what a stroke says is none, and takes what one says is damage', async () => {
    const [kept] = specks.slice(8);
    const marks = [stroke('keep', Math.round(kept.x), Math.round(kept.y), 24), stroke('damage', 30, 300, 12)];
    const graph = graphOf(dirty, { sure: 80 }, marks);
    const mask = (await graph.node('dirt')?.found?.(0, wholeRegion(info)))?.mask ?? new Uint8Array();
    expect(mask[Math.round(kept.y) * WIDTH + Math.round(kept.x)]).toBe(0);
    expect(mask[300 * WIDTH + 30]).toBe(1);
    const made = (await graph.output.frame(0, wholeRegion(info))).planes[0].data;
    expect(made[Math.round(kept.y) * WIDTH + Math.round(kept.x)]).toBe(63000);
  });

  it('lifts what a stroke says is a stain, in a part as in the whole', async () => {
    const x = 270,
      y = 150;
    const inside = clean.planes[0].data.map((_, i) => Number(Math.hypot((i % WIDTH) - x, Math.floor(i / WIDTH) - y) < 40));
    const data = clean.planes[0].data.map((v, i) => (inside[i] ? Math.round(0.6 * v) : v));
    const spilled = { ...clean, planes: [{ ...clean.planes[0], data }] };
    const none = { specks: 0, hairs: 0, scratches: 0, folds: 0, cracks: 0, stains: 0 };
    const graph = graphOf(spilled, none, [stroke('stain', x, y, 92)]);
    const made = await graph.output.frame(0, wholeRegion(info));
    const off = (of: Uint16Array): number => of.reduce((sum, v, i) => sum + (inside[i] ? Math.abs(v - clean.planes[0].data[i]) : 0), 0);
    expect(off(made.planes[0].data)).toBeLessThan(0.3 * off(data));
    const part = { x: 240, y: 120, width: 90, height: 70 };
    expect((await graph.output.frame(0, part)).planes).toEqual(cutPicture(made, part).planes);
  });

  it('leaves the picture at no amount, and where every kind is left', async () => {
    const none = { specks: 0, hairs: 0, scratches: 0, folds: 0, cracks: 0, stains: 0 };
    for (const settings of [{ amount: 0 }, none])
      expect((await graphOf(dirty, settings).output.frame(0, wholeRegion(info))).planes).toEqual(dirty.planes);
  });

  it('is offered for stills whose damage was counted, and proposed where it stands out from the picture', () => {
    const counts = { specks: 40, hairs: 0, scratches: 0, folds: 0, cracks: 0, stains: 0 };
    const proposed = (sure: number) => dirt.propose(reportOf({ dirt: { share: 0.5, counts, sampled: false, sure } }), info);
    expect([proposed(0)?.on, proposed(0.15)?.on, proposed(0.8)?.on, dirt.propose(reportOf({}), info)]).toEqual([
      false,
      false,
      true,
      undefined,
    ]);
    // Stains are counted, and left until the restorer says so.
    expect(proposed(0.8)?.settings).toEqual({ stains: 0 });
    expect(dirt.suits({ ...info, frames: 25 })).toBe(false);
  });

  it('says which kinds it leaves', () => {
    expect(dirt.summary({ ...new DirtSettings(), folds: 0 }, info)).toContain('without folds');
    expect(dirtRule(new DirtSettings()).sensitivity.hairs).toBe(50);
  });
});
