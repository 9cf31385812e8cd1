import { closeSync, mkdtempSync, openSync, readdirSync, rmSync, statSync, writeFileSync, writeSync } from 'node:fs';
import { hostname, tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createCollection, listCollections } from './collections';
import { openArchive, type Archive } from './database';
import { claimArchive, openVerified, takeSnapshot } from './guard';
import { archivePaths } from './paths';

let root = '';
let a: Archive;
const lock = (): string => path.join(a.paths.root, 'archive.lock');

beforeAll(async () => {
  root = mkdtempSync(path.join(tmpdir(), 'wairetic-guard-'));
  a = await openArchive(archivePaths(path.join(root, 'archive')));
});
afterAll(async () => {
  await a.db.destroy();
  rmSync(root, { recursive: true });
});

describe('claimArchive', () => {
  it('lets one server in, and tells the second who has it', async () => {
    const give = await claimArchive(a.paths);
    await expect(claimArchive(a.paths)).rejects.toThrow(`process ${process.pid} on ${hostname()}`);
    give();
    (await claimArchive(a.paths))();
  });

  it('takes over from a process that is gone, also where its number was given again, and from a lock that says nothing', async () => {
    const left = { host: hostname(), since: '2026-01-01' };
    for (const content of [
      JSON.stringify({ ...left, pid: 2 ** 22 + 1, began: '1' }),
      JSON.stringify({ ...left, pid: process.pid, began: '1' }),
      '',
    ]) {
      writeFileSync(lock(), content);
      (await claimArchive(a.paths))();
    }
  });

  it('does not judge processes of another machine', async () => {
    writeFileSync(lock(), JSON.stringify({ host: 'elsewhere', pid: 1, began: '1', since: '2026-01-01' }));
    await expect(claimArchive(a.paths)).rejects.toThrow('elsewhere');
    rmSync(lock());
  });
});

describe('the database', () => {
  it('is copied once a day, three copies deep, and a copy opens', async () => {
    await createCollection(a, { name: 'Kept' });
    for (const day of ['2026-11-01', '2026-11-02', '2026-11-02', '2026-11-03', '2026-11-04']) await takeSnapshot(a, day);
    const folder = path.join(a.paths.root, 'snapshots');
    expect(readdirSync(folder).sort()).toEqual(['archive-2026-11-02.sqlite', 'archive-2026-11-03.sqlite', 'archive-2026-11-04.sqlite']);
    const copy = await openVerified(() => openArchive({ ...a.paths, database: path.join(folder, 'archive-2026-11-04.sqlite') }));
    expect((await listCollections(copy)).map((c) => c.name)).toEqual(['Kept']);
    await copy.db.destroy();
  });

  it('is not worked on when it is damaged', async () => {
    const paths = archivePaths(path.join(root, 'damaged'));
    const whole = await openArchive(paths);
    for (let n = 0; n < 60; n++) await createCollection(whole, { name: `Collection ${n} ${'x'.repeat(150)}` });
    await whole.db.raw('pragma wal_checkpoint(truncate)');
    await whole.db.destroy();
    const file = openSync(paths.database, 'r+');
    for (let at = 8192; at < statSync(paths.database).size; at += 4096) writeSync(file, Buffer.alloc(600, 0xa5), 0, 600, at + 40);
    closeSync(file);
    await expect(openVerified(() => openArchive(paths))).rejects.toThrow('snapshots');
  });
});
