import { execFileSync } from 'node:child_process';
import {
  chmodSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import sharp from 'sharp';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { LIKELY } from '../core/condition/report';
import type { Plan } from '../core/plan/plan';
import { createCollection, listCollections } from './collections';
import { inTransaction, openArchive, type Archive } from './database';
import { listDeliveries, NoLongerHeld, recordDelivery } from './deliveries';
import { checkDelivery, checkNext, checkOriginal } from './fixity';
import { filesOfFolder, takeIn, touchesArchive } from './intake';
import { findItem, listItems } from './items';
import {
  cancelJob,
  completeSegment,
  createJob,
  findJob,
  jobNotes,
  LEASE,
  leaseFinish,
  leaseSegment,
  listJobs,
  renewFinish,
  releaseSegment,
  renewLease,
  resetSegment,
  retrySegment,
  type FinishLease,
} from './jobs';
import * as third from './migrations/third';
import { archivePaths, inside, safeName, withoutFolders } from './paths';
import { currentPlan, goToVersion, nameVersion, planHistory, savePlan } from './plans';
import { DEFAULT_JOB_OPTIONS, type Item } from './types';
import { recoverUploads } from './uploads';

let root = '';
let a: Archive;
const plan: Plan = { format: 'wairetic-plan', version: 1, steps: [] };

beforeAll(async () => {
  root = mkdtempSync(path.join(tmpdir(), 'wairetic-archive-'));
  a = await openArchive(archivePaths(path.join(root, 'archive')));
});
afterAll(async () => {
  await a.db.destroy();
  rmSync(root, { recursive: true });
});

async function print(name: string, shade: number): Promise<string> {
  const file = path.join(root, name);
  await sharp({ create: { width: 32, height: 32, channels: 3, background: { r: shade, g: 90, b: 60 } } })
    .png()
    .toFile(file);
  return file;
}

async function itemIn(collection: string, shade: number): Promise<Item> {
  const result = await takeIn(a, collection, await print(`p${shade}.png`, shade), `p${shade}.png`, 'copy');
  if (!result.ok) throw new Error(result.message);
  return result.item;
}

describe('taking in', () => {
  it('puts the original away unchanged and read-only, once for each collection', async () => {
    const { id } = await createCollection(a, { name: ' First ', note: ' ' });
    const file = await print('scan.png', 10);
    const result = await takeIn(a, id, file, 'a/b/../scan: of "it".png', 'copy');
    expect(result).toMatchObject({ ok: true, item: { name: 'scan of it', kind: 'still', state: 'examining' } });
    if (!result.ok) return;
    const stored = path.join(a.paths.sources, result.item.source);
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
    const stored = path.join(a.paths.sources, first.item.source);
    chmodSync(stored, 0o644);
    writeFileSync(stored, 'damaged');
    expect((await checkOriginal(a, first.item)).problem).toContain('its checksum differs');
    const again = await takeIn(a, id, file, 'heal.png', 'copy');
    expect(again).toMatchObject({ ok: false, message: expect.stringContaining('it is whole again') as string });
    expect(readFileSync(stored)).toEqual(readFileSync(file));
    expect((await checkOriginal(a, first.item)).problem).toBe('');
    rmSync(stored);
    expect((await checkOriginal(a, first.item)).problem).toContain('is gone');
  });

  it('refuses what is no file, and its own folder', async () => {
    const { id } = await createCollection(a, { name: 'Refused' });
    const pipe = path.join(root, 'pipe');
    execFileSync('mkfifo', [pipe]);
    expect(await takeIn(a, id, pipe, 'pipe', 'copy')).toMatchObject({ ok: false, message: expect.stringContaining('pipe') as string });
    rmSync(pipe);
    expect(await touchesArchive(a, a.paths.sources)).toBe(true);
    expect(await touchesArchive(a, root)).toBe(true);
    const elsewhere = path.join(root, 'elsewhere');
    mkdirSync(elsewhere);
    expect(await touchesArchive(a, elsewhere)).toBe(false);
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
    expect(await recoverUploads(a)).toMatchObject([{ ok: true, item: { fileName: 'whole.png' } }]);
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
        expect(path.dirname(inside('/srv/archive', name))).toBe('/srv/archive');
      }),
    );
    for (const long of ['x'.repeat(400), '写真'.repeat(200), '👩‍👩‍👧'.repeat(60)]) {
      expect(Buffer.byteLength(safeName(`${long}.tiff`))).toBeLessThanOrEqual(200);
      expect(safeName(`${long}.tiff`)).toMatch(/\.tiff$/);
    }
    expect(withoutFolders("ENOENT: no such file, open '/home/someone/data/sources/ab/scan.png'")).toBe(
      "ENOENT: no such file, open 'scan.png'",
    );
    expect(() => inside('/srv/archive', '../etc/passwd')).toThrow('leads out');
    expect(() => inside('/srv/archive', '/etc/passwd')).toThrow('leads out');
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
    expect((await currentPlan(a, id))?.plan).toEqual(numbered(2));
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

describe('jobs', () => {
  let item: Item;
  let shade = 60;
  const make = () =>
    createJob(a, {
      itemId: item.id,
      planVersion: 1,
      plan,
      options: DEFAULT_JOB_OPTIONS,
      frames: 30,
      segments: [
        { first: 0, count: 10 },
        { first: 10, count: 10 },
        { first: 20, count: 10 },
      ],
    });
  beforeEach(async () => {
    item = await itemIn((await createCollection(a, { name: 'Jobs' })).id, shade++);
    await a.db('jobs').update({ state: 'cancelled' });
  });

  it('hand out each segment once, oldest job first', async () => {
    const first = await make(),
      second = await make();
    const taken = [];
    for (let n = 0; n < 4; n++) taken.push(await leaseSegment(a, 'worker'));
    expect(taken.map((t) => [t?.job.id, t?.segment.number])).toEqual([
      [first.id, 0],
      [first.id, 1],
      [first.id, 2],
      [second.id, 0],
    ]);
    expect((await findJob(a, first.id))?.state).toBe('running');
  });

  it('give a silent worker’s segment to another, after its lease', async () => {
    await make();
    const start = Date.now();
    const lost = await leaseSegment(a, 'dead', start);
    expect((await leaseSegment(a, 'other', start + 1))?.segment.number).toBe(1);
    const again = await leaseSegment(a, 'other', start + LEASE + 1);
    expect(again?.segment).toEqual(lost?.segment);
    // The first worker, should it wake up, has nothing to say any more.
    expect(lost && (await renewLease(a, 'dead', lost.segment, 5))).toBe(false);
    expect(lost && (await completeSegment(a, 'dead', lost.segment, {}, 1))).toBe(false);
  });

  it('keep a lease alive that is renewed', async () => {
    await make();
    const start = Date.now();
    const held = await leaseSegment(a, 'alive', start);
    expect(held && (await renewLease(a, 'alive', held.segment, 3, start + LEASE - 1))).toBe(true);
    expect((await leaseSegment(a, 'other', start + LEASE + 5))?.segment.number).toBe(1);
    expect((await listJobs(a))[0]).toMatchObject({ framesDone: 3, segments: 3, segmentsDone: 0 });
  });

  it('are given up when a segment keeps killing its worker', async () => {
    const job = await make();
    let time = Date.now();
    for (let n = 0; n < 4; n++) {
      expect((await leaseSegment(a, `w${n}`, time))?.segment.number).toBe(0);
      time += LEASE + 1;
    }
    expect(await leaseSegment(a, 'w5', time)).toBeUndefined();
    expect(await findJob(a, job.id)).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('segment 1 stopped its worker 4 times') as string,
    });
  });

  it('are put together by one, once all is there, and go back when a piece is lost', async () => {
    const job = await make();
    for (let n = 0; n < 3; n++) {
      expect(await leaseFinish(a)).toBeUndefined();
      const leased = await leaseSegment(a, 'w');
      if (leased) await completeSegment(a, 'w', leased.segment, { master: `${n}.mkv` }, 100);
    }
    expect((await leaseFinish(a))?.job.id).toBe(job.id);
    expect(await leaseFinish(a)).toBeUndefined();
    await resetSegment(a, job.id, 1);
    expect((await leaseSegment(a, 'w'))?.segment.number).toBe(1);
    expect(await jobNotes(a, job.id)).toEqual(['piece 2 was lost or damaged on disk and was made again']);
  });

  /** A job all of whose segments are done. */
  async function rendered(): Promise<string> {
    const job = await make();
    for (let n = 0; n < 3; n++) {
      const leased = await leaseSegment(a, 'w');
      if (leased) await completeSegment(a, 'w', leased.segment, {}, 1);
    }
    return job.id;
  }
  const handOver = (lease: FinishLease): Promise<string> =>
    recordDelivery(a, {
      jobId: lease.job.id,
      token: lease.token,
      itemId: item.id,
      folders: ['Jobs/one', 'Jobs/two'],
      notes: [],
      files: [],
    });

  it('are handed over once, by whoever holds them, under a name no delivery has', async () => {
    const time = Date.now();
    await rendered();
    const first = (await leaseFinish(a, time)) as FinishLease,
      second = (await leaseFinish(a, time + LEASE + 1)) as FinishLease;
    expect(await renewFinish(a, first)).toBe(false);
    await expect(handOver(first)).rejects.toThrow(NoLongerHeld);
    const folder = await handOver(second);
    await expect(handOver(second)).rejects.toThrow(NoLongerHeld);
    await rendered();
    expect(await handOver((await leaseFinish(a)) as FinishLease)).not.toBe(folder);
    expect((await listDeliveries(a, { jobId: second.job.id })).map((d) => d.folder)).toEqual([folder]);
    expect((await findJob(a, second.job.id))?.state).toBe('done');
  });

  it('cancelled while they are put together are not handed over', async () => {
    const id = await rendered();
    const lease = (await leaseFinish(a)) as FinishLease;
    await cancelJob(a, id);
    await expect(handOver(lease)).rejects.toThrow(NoLongerHeld);
    expect(await listDeliveries(a, { jobId: id })).toEqual([]);
  });

  it('count failures as attempts, not restarts', async () => {
    const job = await make();
    for (let n = 0; n < 9; n++) {
      const held = await leaseSegment(a, 'w');
      expect(held?.segment.number).toBe(0);
      if (held) await releaseSegment(a, 'w', held.segment);
    }
    for (let n = 0; n < 4; n++) {
      const held = await leaseSegment(a, 'w');
      if (held) await retrySegment(a, 'w', held.segment, 'the encoder was stopped (SIGKILL)');
    }
    expect(await leaseSegment(a, 'w')).toBeUndefined();
    expect(await findJob(a, job.id)).toMatchObject({ state: 'failed', message: expect.stringContaining('SIGKILL') as string });
  });

  it('take back leases that a clock set too far ahead', async () => {
    await make();
    const ahead = Date.now() + 3_600_000;
    const lost = await leaseSegment(a, 'w', ahead);
    expect((await leaseSegment(a, 'other', ahead - 3_600_000))?.segment).toEqual(lost?.segment);
  });

  it('are cancelled for good', async () => {
    const job = await make();
    const held = await leaseSegment(a, 'w');
    expect(await cancelJob(a, job.id)).toBe(true);
    expect(await cancelJob(a, job.id)).toBe(false);
    expect(held && (await renewLease(a, 'w', held.segment, 1))).toBe(false);
    if (held) await releaseSegment(a, 'w', held.segment);
    expect(await leaseSegment(a, 'w')).toBeUndefined();
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
