import { execFileSync } from 'node:child_process';
import { chmodSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, symlinkSync, utimesSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LIKELY } from '../core/condition/report';
import { treatment } from '../core';
import type { Plan } from '../shared/plan';
import { createCollection, listCollections } from './collections';
import { inTransaction, openArchive, type Archive } from './database';
import { checkOriginal } from './fixity';
import { filesOfFolder, takeIn, overlapsArchive } from './intake';
import { findItem, listItems, picturedItems, thumbnailPath, underExamination } from './items';
import * as third from './migrations/third';
import { pathInside, safeName, withoutFolders } from './paths';
import { currentPlan, goToVersion, nameVersion, planHistory, savePlan } from './plans';
import { TestArchive } from './testing';
import type { Item } from './types';
import { recoverUploads } from './uploads';

let held: TestArchive;
let root = '';
let a: Archive;
const plan: Plan = { format: 'wairetic-plan', version: 2, steps: [] };

beforeAll(async () => {
  held = await TestArchive.open();
  ({ root, archive: a } = held);
});
afterAll(() => held.close());

const print = (name: string, shade: number): Promise<string> => held.print(name, shade);
const itemIn = (collection: string, shade: number): Promise<Item> => held.itemIn(collection, shade);

describe('taking in', () => {
  it('puts the original away unchanged and read-only, once for each collection', async () => {
    const { id } = await createCollection(a, { name: ' First ', note: ' ' });
    const file = await print('scan.png', 10);
    const result = await takeIn(a, id, file, 'a/b/../scan: of "it".png', 'copy');
    expect(result).toMatchObject({ ok: true, items: [{ name: 'scan of it', kind: 'still', state: 'examining' }] });
    if (!result.ok) return;
    const stored = path.join(a.paths.sources, result.items[0].source.path);
    expect(readFileSync(stored)).toEqual(readFileSync(file));
    expect(statSync(stored).mode & 0o222).toBe(0);
    expect(await takeIn(a, id, file, 'again.png', 'copy')).toMatchObject({
      ok: false,
      message: expect.stringContaining('already') as string,
    });
    const other = await createCollection(a, { name: 'Second' });
    expect(await takeIn(a, other.id, file, 'scan.png', 'copy')).toMatchObject({ ok: true });
    expect((await listCollections(a)).map((c) => [c.name, c.items, c.delivered])).toEqual([
      ['First', 1, 0],
      ['Second', 1, 0],
    ]);
    expect(await listItems(a, id)).toHaveLength(1);
  });

  it('are shown by items from all of them that are ready, no more than fit beside one another', async () => {
    const { id } = await createCollection(a, { name: 'Shown' });
    const made: string[] = [];
    for (let n = 0; n < 14; n++) made.push((await held.itemIn(id, 10 + n)).id);
    await a.db('items').whereIn('id', made).update({ state: 'ready' });
    await a.db('items').where({ id: made[1] }).update({ state: 'examining' });
    const summary = (await listCollections(a)).find((collection) => collection.id === id);
    expect(summary).toMatchObject({ items: 14, people: 0, faces: [] });
    const shown = summary?.shown.map((item) => item.id) ?? [];
    expect(shown).toHaveLength(10);
    expect(shown).toEqual(made.filter((one) => shown.includes(one)));
    expect(shown).toContain(made[13]);
    expect(shown).not.toContain(made[1]);
    expect(summary?.shown.every(({ name }) => name.length > 0)).toBe(true);
  });

  it('tells what is being examined, and of what there is a thumbnail already', async () => {
    const { id } = await createCollection(a, { name: 'Examined' });
    const [first, second, third] = [await held.itemIn(id, 31), await held.itemIn(id, 32), await held.itemIn(id, 33)];
    const failed = await held.itemIn(id, 34);
    await a.db('items').where({ id: failed.id }).update({ state: 'failed' });
    await a.db('items').where({ id: third.id }).update({ state: 'ready' });
    for (const item of [second, third, failed]) writeFileSync(thumbnailPath(a, item), 'JPEG');
    const told = (await underExamination(a)).filter(({ collectionName }) => collectionName === 'Examined');
    expect(told.map((item) => item.id)).toEqual([first.id, second.id]);
    expect(picturedItems(a, await listItems(a, id))).toEqual([second.id, failed.id]);
  });

  it('gives one item for the same file sent four times at once', async () => {
    const { id } = await createCollection(a, { name: 'At once' });
    const file = await print('four.png', 11);
    const results = await Promise.all([1, 2, 3, 4].map((n) => takeIn(a, id, file, `four ${n}.png`, 'copy')));
    expect(results.filter((r) => r.ok)).toHaveLength(1);
    for (const r of results) if (!r.ok) expect(r.message).toContain('in this collection already');
    expect(await listItems(a, id)).toHaveLength(1);
  });

  it('heals an original that was damaged in its place when the same file comes again, and says so', async () => {
    const { id } = await createCollection(a, { name: 'Healed' });
    const file = await print('heal.png', 12);
    const first = await takeIn(a, id, file, 'heal.png', 'copy');
    if (!first.ok) throw new Error(first.message);
    const stored = path.join(a.paths.sources, first.items[0].source.path);
    chmodSync(stored, 0o644);
    writeFileSync(stored, 'damaged');
    expect((await checkOriginal(a, first.items[0].source)).problem).toContain('its checksum differs');
    const again = await takeIn(a, id, file, 'heal.png', 'copy');
    expect(again).toMatchObject({ ok: false, message: expect.stringContaining('it is whole again') as string });
    expect(readFileSync(stored)).toEqual(readFileSync(file));
    expect((await checkOriginal(a, first.items[0].source)).problem).toBe('');
    rmSync(stored);
    expect((await checkOriginal(a, first.items[0].source)).problem).toContain('is gone');
  });

  it('refuses what is no file, and its own folder', async () => {
    const { id } = await createCollection(a, { name: 'Refused' });
    const pipe = path.join(root, 'pipe');
    execFileSync('mkfifo', [pipe]);
    expect(await takeIn(a, id, pipe, 'pipe', 'copy')).toMatchObject({ ok: false, message: expect.stringContaining('pipe') as string });
    rmSync(pipe);
    expect(await overlapsArchive(a, a.paths.sources)).toBe(true);
    expect(await overlapsArchive(a, root)).toBe(true);
    const elsewhere = path.join(root, 'elsewhere');
    mkdirSync(elsewhere);
    expect(await overlapsArchive(a, elsewhere)).toBe(false);
  });

  it('takes in uploads that were whole when the server was killed, and gives up those nobody goes on with', async () => {
    const { id } = await createCollection(a, { name: 'Uploads' });
    const upload = (name: string, content: Buffer, size: number, days: number): void => {
      const file = path.join(a.paths.uploads, name);
      writeFileSync(file, content);
      writeFileSync(`${file}.json`, JSON.stringify({ id: name, size, metadata: { collection: id, filename: `${name}.png` } }));
      const time = Date.now() / 1000 - days * 86_400;
      utimesSync(file, time, time);
    };
    const content = readFileSync(await print('whole.png', 13));
    upload('whole', content, content.length, 0);
    upload('going', content.subarray(0, 20), content.length, 1);
    upload('old', content.subarray(0, 20), content.length, 8);
    expect(await recoverUploads(a)).toMatchObject([{ ok: true, items: [{ source: { fileName: 'whole.png' } }] }]);
    expect(readdirSync(a.paths.uploads).sort()).toEqual(['going', 'going.json']);
    expect(await recoverUploads(a)).toEqual([]);
  });

  it('refuses a file whose checksum is not the announced one, and removes it', async () => {
    const { id } = await createCollection(a, { name: 'Damaged' });
    const file = await print('sent.png', 20);
    expect(await takeIn(a, id, file, 'sent.png', 'move', '0'.repeat(64))).toMatchObject({
      ok: false,
      message: expect.stringContaining('arrived damaged') as string,
    });
    expect(() => statSync(file)).toThrow();
  });

  it('lists a folder without hidden files', async () => {
    writeFileSync(path.join(root, '.hidden'), 'x');
    symlinkSync('/etc/hostname', path.join(root, 'link.png'));
    const { files, passedOver } = await filesOfFolder(root, 5000);
    const names = files.map((f) => path.basename(f));
    expect(names).not.toContain('.hidden');
    expect(names).toContain('scan.png');
    expect(passedOver).toEqual([{ name: 'link.png', why: 'It is a link; links are not followed.' }]);
  });
});

describe('names and paths', () => {
  it('are safe, whatever comes', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        const name = safeName(text);
        expect(name.length).toBeGreaterThan(0);
        expect(name).not.toMatch(/[/\\\u0000-\u001f]|^\.|[. ]$/);
        expect(path.dirname(pathInside('/srv/archive', name))).toBe('/srv/archive');
      }),
    );
    for (const long of ['x'.repeat(400), '写真'.repeat(200), '👩‍👩‍👧'.repeat(60)]) {
      expect(Buffer.byteLength(safeName(`${long}.tiff`))).toBeLessThanOrEqual(200);
      expect(safeName(`${long}.tiff`)).toMatch(/\.tiff$/);
    }
    expect(withoutFolders("ENOENT: no such file, open '/home/someone/data/sources/ab/scan.png'")).toBe(
      "ENOENT: no such file, open 'scan.png'",
    );
    expect(() => pathInside('/srv/archive', '../etc/passwd')).toThrow('leads out');
    expect(() => pathInside('/srv/archive', '/etc/passwd')).toThrow('leads out');
  });
});

describe('a transaction', () => {
  it('is done anew when another process wrote between its reading and its writing', async () => {
    const { id } = await itemIn((await createCollection(a, { name: 'Two at once' })).id, 32);
    const other = await openArchive(a.paths);
    let tries = 0;
    await inTransaction(a.db, async (trx) => {
      await trx('items').where({ id }).first();
      if (++tries === 1) await other.db('items').where({ id }).update({ message: 'from elsewhere' });
      await trx('items').where({ id }).update({ name: 'renamed' });
    });
    await other.db.destroy();
    expect(tries).toBe(2);
    expect(await findItem(a, id)).toMatchObject({ name: 'renamed', message: 'from elsewhere' });
  });
});

describe('plans', () => {
  it('are kept version by version, the same one not twice', async () => {
    const { id } = await itemIn((await createCollection(a, { name: 'Plans' })).id, 30);
    const other: Plan = { ...plan, steps: [{ id: 'x', treatment: 'grain', on: true, settings: {} }] };
    for (const [p, change] of [
      [plan, 'first'],
      [plan, 'same'],
      [other, 'added'],
      [plan, 'back'],
    ] as const)
      await savePlan(a, id, p, change);
    expect((await planHistory(a, id)).versions.map((v) => [v.version, v.change])).toEqual([
      [1, 'first'],
      [2, 'added'],
      [3, 'back'],
    ]);
    expect((await currentPlan(a, id))?.plan).toEqual(plan);
  });

  it('are walked back and forth, and branch where something is changed after going back', async () => {
    const { id } = await itemIn((await createCollection(a, { name: 'Tree' })).id, 31);
    const numbered = (n: number): Plan => ({ ...plan, steps: [{ id: `s${n}`, treatment: 'grain', on: true, settings: {} }] });
    for (const n of [1, 2, 3]) await savePlan(a, id, numbered(n), `change ${n}`);
    await goToVersion(a, id, 1);
    expect(await planHistory(a, id)).toMatchObject({ current: 1, tip: 3 });
    await goToVersion(a, id, 2);
    expect((await currentPlan(a, id))?.plan).toMatchObject({ steps: [{ id: 's2', version: treatment('grain')?.version }] });
    expect(await planHistory(a, id)).toMatchObject({ current: 2, tip: 3 });
    await savePlan(a, id, numbered(4), 'another way');
    const { versions, ...places } = await planHistory(a, id);
    expect(places).toEqual({ current: 4, tip: 4 });
    expect(versions.map((v) => v.parent)).toEqual([null, 1, 2, 2]);
    // The branch that was left can be gone to, and is then the one redo walks.
    await goToVersion(a, id, 3);
    expect(await planHistory(a, id)).toMatchObject({ current: 3, tip: 3 });
    expect(await goToVersion(a, id, 99)).toBeUndefined();
    expect(await nameVersion(a, id, 4, 'for the client')).toBe(true);
    expect(await nameVersion(a, id, 99, 'none')).toBe(false);
    expect((await planHistory(a, id)).versions[3].name).toBe('for the client');
  });
});

describe('an archive of an earlier version', () => {
  it('keeps its reports, unsure of what they could not tell', async () => {
    const { id } = await createCollection(a, { name: 'Old', note: '' });
    const item = await itemIn(id, 77);
    const old = { measurements: { scan: 'still', grainLuma: 6, grainChroma: 1, coding: 12 }, findings: [], sampled: [0] };
    await a
      .db('items')
      .where({ id: item.id })
      .update({ condition: JSON.stringify(old) });
    await third.up(a.db);
    const report = (await findItem(a, item.id))?.condition;
    expect(report?.measurements).toMatchObject({ grainLuma: 6, grainLumaLeast: 3, coding: 12 });
    expect(report?.measurements.grainConfidence).toBeLessThan(LIKELY);
    await third.up(a.db);
    expect((await findItem(a, item.id))?.condition).toEqual(report);
  });
});
