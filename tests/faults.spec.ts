import { rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Job, JobProgress } from '../src/archive/types';
import { collectionWith, demoMedia, expect, test } from './fixtures';
import { FAULTS, FaultRun } from './faults';
import { ownDisk, TestServer } from './server';

test('whatever is killed, whenever: nothing is lost, nothing comes twice, the master is byte for byte the same', async ({ server }) => {
  const run = new FaultRun(server, 20_261_126);
  await run.begin();
  const outcomes = [];
  for (const fault of FAULTS) outcomes.push(await run.hit(fault));
  run.end();
  expect(outcomes.filter((o) => !o.whole)).toEqual([]);
  expect(outcomes.filter((o) => o.hit).length).toBeGreaterThan(4);
});

test('a full disk stops a job with a word, and it goes on by itself when there is room', async () => {
  test.skip(!ownDisk(), 'this system lets nobody mount a small file system, not even for itself');
  const server = new TestServer({}, 330);
  try {
    await server.start();
    const { items } = await collectionWith(server, 'Full', demoMedia('Slide 14, the harbour.jpg'));
    const ballast = path.join(server.seenHome, 'ballast');
    writeFileSync(ballast, Buffer.alloc(60 << 20, 1));
    const { id } = await server.api<Job>('jobs', { itemId: items[0].id });
    const job = async (): Promise<JobProgress | undefined> => (await server.api<JobProgress[]>('jobs')).find((j) => j.id === id);
    await expect.poll(async () => (await job())?.message).toMatch(/^disk full: \d+\.\d GB needed/);
    rmSync(ballast);
    await expect.poll(async () => (await job())?.state, { timeout: 120_000 }).toBe('done');
  } finally {
    await server.stop().catch(() => undefined);
  }
});
