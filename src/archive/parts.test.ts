import { spawnSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { wholeRegion } from '../core';
import { planOf } from '../core/testing/plans';
import { openSource } from '../media';
import { createCollection } from './collections';
import { checkAll } from './fixity';
import { takeIn } from './intake';
import { findItem, listItems, measuredStream, pictureKey, probedItem, sourcePath } from './items';
import { createJob } from './jobs';
import { currentPlan, savePlan } from './plans';
import { splitItem } from './split';
import { TestArchive } from './testing';
import { DEFAULT_JOB_OPTIONS } from '../shared/jobs';
import type { Item } from './types';

let held: TestArchive, collection: string;
beforeAll(async () => {
  held = await TestArchive.open();
  collection = (await createCollection(held.archive, { name: 'Parts' })).id;
});
afterAll(() => held.close());

const made = (name: string, ...args: string[]): string => {
  const file = path.join(held.root, name);
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-nostdin', ...args, file]);
  if (status !== 0) throw new Error(stderr.toString());
  return file;
};
async function taken(file: string): Promise<Item[]> {
  const result = await takeIn(held.archive, collection, file, path.basename(file), 'copy');
  if (!result.ok) throw new Error(result.message);
  return result.items;
}
/** Mean of the first plane of frame `n` of an item, on the 0 to 255 scale. */
async function levelOf(item: Item, n = 0): Promise<number> {
  const source = await openSource(
    sourcePath(held.archive, item),
    pictureKey(item),
    await probedItem(held.archive, item),
    measuredStream(item),
  );
  const [{ data }] = (await source.frame(n, wholeRegion(source.info))).planes;
  source.close?.();
  return data.reduce((sum, v) => sum + v, 0) / data.length / 256;
}

/** A TIFF of several pages of one grey each, little-endian, uncompressed (TIFF 6.0). */
function pagesOf(...pages: { width: number; height: number; level: number }[]): Buffer {
  const chunks: Buffer[] = [Buffer.from('II*\0\0\0\0\0', 'latin1')];
  let at = 8,
    link = 4;
  for (const { width, height, level } of pages) {
    const pixels = Buffer.alloc(width * height + ((width * height) % 2), level);
    const entries: [tag: number, type: number, value: number][] = [
      ...([
        [256, 3, width],
        [257, 3, height],
        [258, 3, 8],
        [259, 3, 1],
        [262, 3, 1],
      ] as [number, number, number][]),
      ...([
        [273, 4, at],
        [277, 3, 1],
        [278, 3, height],
        [279, 4, width * height],
      ] as [number, number, number][]),
    ];
    const directory = Buffer.alloc(2 + 12 * entries.length + 4);
    directory.writeUInt16LE(entries.length, 0);
    for (const [n, [tag, type, value]] of entries.entries()) {
      directory.writeUInt16LE(tag, 2 + 12 * n);
      directory.writeUInt16LE(type, 4 + 12 * n);
      directory.writeUInt32LE(1, 6 + 12 * n);
      directory.writeUInt32LE(value, 10 + 12 * n);
    }
    chunks.push(pixels, directory);
    const whole = Buffer.concat(chunks);
    whole.writeUInt32LE(at + pixels.length, link);
    chunks.splice(0, chunks.length, whole);
    link = whole.length - 4;
    at = whole.length;
  }
  return chunks[0];
}

describe('a file with several pictures', () => {
  it('becomes an item a page, of one source, that is looked after once', async () => {
    const file = path.join(held.root, 'album.tif');
    writeFileSync(
      file,
      pagesOf({ width: 60, height: 40, level: 50 }, { width: 44, height: 60, level: 120 }, { width: 60, height: 40, level: 200 }),
    );
    const items = await taken(file);
    expect(items.map((i) => i.name)).toEqual(['album, page 1', 'album, page 2', 'album, page 3']);
    expect(items.map((i) => [i.facts.stream.width, i.facts.stream.height])).toEqual([
      [60, 40],
      [44, 60],
      [60, 40],
    ]);
    expect(new Set(items.map((i) => i.source.id)).size).toBe(1);
    expect(new Set(items.map(pictureKey)).size).toBe(3);
    for (const [n, item] of items.entries()) expect(Math.abs((await levelOf(item)) - [50, 120, 200][n])).toBeLessThan(1);
    expect((await listItems(held.archive, collection)).map((i) => i.name)).toEqual(items.map((i) => i.name));
    const checked: string[] = [];
    await checkAll(held.archive, ({ name }) => checked.push(name));
    expect(checked).toEqual(['album.tif']);
    expect(await takeIn(held.archive, collection, file, 'again.tif', 'copy')).toMatchObject({ ok: false });
  });

  it('leaves out pages that are smaller copies', async () => {
    const file = path.join(held.root, 'scan.tif');
    writeFileSync(
      file,
      pagesOf({ width: 200, height: 160, level: 90 }, { width: 100, height: 80, level: 90 }, { width: 50, height: 40, level: 90 }),
    );
    const [item, ...others] = await taken(file);
    expect([item.name, others.length]).toEqual(['scan', 0]);
    expect(item.facts.notes).toContain("2 of the file's 3 pages are smaller copies of others, and left out");
  });

  it('becomes an item a picture stream', async () => {
    const grey = (level: number, size: string): string[] => [
      '-f',
      'lavfi',
      '-i',
      `color=0x${level.toString(16).repeat(3)}:size=${size}:rate=25:duration=1`,
    ];
    const file = made(
      'angles.mkv',
      ...grey(0x60, '64x48'),
      ...grey(0xa0, '96x48'),
      '-map',
      '0',
      '-map',
      '1',
      '-c:v',
      'ffv1',
      '-pix_fmt',
      'yuv420p',
    );
    const items = await taken(file);
    expect(items.map((i) => [i.name, i.facts.stream.width])).toEqual([
      ['angles, picture 1', 64],
      ['angles, picture 2', 96],
    ]);
    expect(await levelOf(items[1], 10)).toBeGreaterThan((await levelOf(items[0], 10)) + 30);
    // Frame times that were lost are read again from the right stream.
    const { index } = await probedItem(held.archive, { ...items[1], id: 'lost' });
    expect(index?.frames).toBe(25);
  });
});

describe('an item split at a frame', () => {
  /** Frames that grow lighter, one code of luma each. */
  const film = (name: string): string =>
    made(
      name,
      '-f',
      'lavfi',
      '-i',
      'color=gray:size=64x48:rate=25:duration=2',
      '-vf',
      'geq=lum=40+2*N:cb=128:cr=128',
      '-c:v',
      'mpeg2video',
      '-qscale:v',
      '1',
      '-g',
      '12',
    );

  it('is two, each with its frames, and the plan goes along', async () => {
    const { archive: a } = held;
    const [item] = await taken(film('film.mpg'));
    const plan = planOf(
      ['trim', { first: 2 }],
      ['grain', {}, undefined, { first: 5, last: 30 }],
      ['regrain', {}, undefined, { first: 0, last: 9 }],
    );
    await savePlan(a, item.id, plan, 'by hand');
    const before = await levelOf(item, 30);
    const { first, second } = await splitItem(a, item, 20);
    expect([first.id, first.name, second.name]).toEqual([item.id, 'film, frames 0 to 19', 'film, frames 20 to 49']);
    const [one, two] = [(await findItem(a, first.id)) as Item, (await findItem(a, second.id)) as Item];
    expect([one.facts.stream.frames, two.facts.stream.frames]).toEqual([20, 30]);
    expect(two.facts.videoStart).toBeCloseTo(one.facts.videoStart + 0.8, 6);
    // The decoder begins before the half does; no frame slips.
    expect(await levelOf(two, 10)).toBe(before);
    expect((await levelOf(two, 0)) - (await levelOf(one, 19))).toBeCloseTo(2, 0);
    const steps = (await currentPlan(a, second.id))?.plan.steps as typeof plan.steps;
    expect(steps.map((s) => [s.treatment, s.on, s.span])).toEqual([
      ['trim', false, undefined],
      ['grain', true, { first: 0, last: 10 }],
      ['regrain', false, undefined],
    ]);
    expect((await currentPlan(a, first.id))?.plan.steps).toMatchObject(plan.steps);
    // Split again, the parts are still named by the frames of the film.
    const again = await splitItem(a, two, 10);
    expect([again.first.name, again.second.name]).toEqual(['film, frames 20 to 29', 'film, frames 30 to 49']);
    expect(await levelOf((await findItem(a, again.second.id)) as Item, 0)).toBe(before);
    expect(readFileSync(sourcePath(a, one))).toEqual(readFileSync(path.join(held.root, 'film.mpg')));
  });

  it('is left as it is where it cannot be split', async () => {
    const { archive: a } = held;
    const [item] = await taken(film('whole.mkv'));
    for (const frame of [0, 50, 1.5]) await expect(splitItem(a, item, frame)).rejects.toThrow('any frame from 1 to 49');
    await createJob(a, {
      itemId: item.id,
      planVersion: 1,
      plan: planOf(),
      options: DEFAULT_JOB_OPTIONS,
      frames: 50,
      segments: [{ first: 0, count: 50 }],
    });
    await expect(splitItem(a, item, 20)).rejects.toThrow('A job of this item is in the queue');
    expect((await findItem(a, item.id))?.name).toBe('whole');
    const [still] = await taken(await held.print('still.png', 40));
    await expect(splitItem(a, still, 1)).rejects.toThrow('A still has no frames');
  });
});
