import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Plan } from '../shared/plan';
import { createCollection } from './collections';
import type { Archive } from './database';
import { listDeliveries, LeaseLost, recordDelivery } from './deliveries';
import { checkAll, checkDelivery, checkNext, type FixityResult } from './fixity';
import {
  cancelJob,
  completeSegment,
  createJob,
  endJob,
  findJob,
  jobNotes,
  LEASE,
  leaseFinish,
  leaseSegment,
  listJobs,
  releaseAll,
  releaseSegment,
  renewFinish,
  renewLease,
  resetSegment,
  retrySegment,
  type FinishLease,
} from './jobs';
import { isQueueOpen, moveJob, pauseJob, queueSettings, resumeJob, retryJob, setQueue } from './queue';
import { TestArchive } from './testing';
import { DEFAULT_JOB_OPTIONS } from '../shared/jobs';
import type { Item } from './types';

let held: TestArchive;
let a: Archive;
const plan: Plan = { format: 'wairetic-plan', version: 2, steps: [] };

beforeAll(async () => {
  held = await TestArchive.open();
  a = held.archive;
});
afterAll(() => held.close());

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
    item = await held.itemIn((await createCollection(a, { name: 'Jobs' })).id, shade++);
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
    await expect(handOver(first)).rejects.toThrow(LeaseLost);
    const folder = await handOver(second);
    await expect(handOver(second)).rejects.toThrow(LeaseLost);
    await rendered();
    expect(await handOver((await leaseFinish(a)) as FinishLease)).not.toBe(folder);
    expect((await listDeliveries(a, { jobId: second.job.id })).map((d) => d.folder)).toEqual([folder]);
    expect((await findJob(a, second.job.id))?.state).toBe('done');
  });

  it('cancelled while they are put together are not handed over', async () => {
    const id = await rendered();
    const lease = (await leaseFinish(a)) as FinishLease;
    await cancelJob(a, id);
    await expect(handOver(lease)).rejects.toThrow(LeaseLost);
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

  it('are nobody’s when a server starts', async () => {
    await make();
    const lost = await leaseSegment(a, 'dead');
    await releaseAll(a);
    expect((await leaseSegment(a, 'w'))?.segment).toEqual(lost?.segment);
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

  it('are paused and go on where they were', async () => {
    const job = await make();
    const first = await leaseSegment(a, 'w');
    if (first) await completeSegment(a, 'w', first.segment, {}, 1);
    const under = await leaseSegment(a, 'w');
    expect(await pauseJob(a, job.id)).toBe(true);
    expect(await pauseJob(a, job.id)).toBe(false);
    expect(under && (await renewLease(a, 'w', under.segment, 1))).toBe(false);
    expect(await leaseSegment(a, 'w')).toBeUndefined();
    expect(await resumeJob(a, job.id)).toBe(true);
    expect((await findJob(a, job.id))?.state).toBe('running');
    expect((await leaseSegment(a, 'w'))?.segment.number).toBe(1);
  });

  it('paused before they began wait again', async () => {
    const job = await make();
    await pauseJob(a, job.id);
    await resumeJob(a, job.id);
    expect((await findJob(a, job.id))?.state).toBe('queued');
    expect(await resumeJob(a, job.id)).toBe(false);
  });

  it('that failed are run again, from the start and at the end of the queue', async () => {
    const failed = await make(),
      other = await make();
    const first = await leaseSegment(a, 'w');
    if (first) await completeSegment(a, 'w', first.segment, { master: 'x' }, 1);
    await endJob(a, failed.id, 'failed', 'broken');
    expect(await retryJob(a, failed.id)).toBe(true);
    expect(await retryJob(a, failed.id)).toBe(false);
    expect((await leaseSegment(a, 'w'))?.job.id).toBe(other.id);
    expect((await listJobs(a)).find((j) => j.id === failed.id)).toMatchObject({ state: 'queued', message: '', segmentsDone: 0 });
  });

  it('are moved among those that have not ended', async () => {
    const [one, two, three] = [await make(), await make(), await make()];
    expect(await moveJob(a, three.id, 0)).toBe(true);
    await moveJob(a, one.id, 99);
    const order = (await listJobs(a)).filter((j) => j.state === 'queued').map((j) => j.id);
    expect(order).toEqual([three.id, two.id, one.id]);
    await cancelJob(a, two.id);
    expect(await moveJob(a, two.id, 0)).toBe(false);
  });

  it('are passed over while they cannot go on', async () => {
    const one = await make(),
      two = await make();
    expect((await leaseSegment(a, 'w', Date.now(), [one.id]))?.job.id).toBe(two.id);
  });
});

describe('the queue', () => {
  it('keeps what is not changed', async () => {
    await setQueue(a, { from: '22:00', to: '06:30' });
    await setQueue(a, { threads: 1 });
    expect(await queueSettings(a)).toEqual({ paused: false, from: '22:00', to: '06:30', threads: 1, memory: null });
  });

  it.each([
    [{}, '12:00', true],
    [{ paused: true }, '12:00', false],
    [{ from: '08:00', to: '18:00' }, '08:00', true],
    [{ from: '08:00', to: '18:00' }, '18:00', false],
    [{ from: '22:00', to: '06:00' }, '23:30', true],
    [{ from: '22:00', to: '06:00' }, '05:59', true],
    [{ from: '22:00', to: '06:00' }, '12:00', false],
    [{ from: '22:00', to: null }, '12:00', true],
  ])('%j at %s is open: %s', (settings, time, open) => {
    expect(isQueueOpen({ paused: false, from: null, to: null, threads: null, memory: null, ...settings }, time)).toBe(open);
  });
});

describe('fixity', () => {
  it('finds what is gone, changed or added in a delivery, and goes round by itself', async () => {
    const item = await held.itemIn((await createCollection(a, { name: 'Fixity' })).id, 5);
    await a.db('jobs').update({ state: 'cancelled' });
    await createJob(a, {
      itemId: item.id,
      planVersion: 1,
      plan,
      options: DEFAULT_JOB_OPTIONS,
      frames: 1,
      segments: [{ first: 0, count: 1 }],
    });
    const piece = await leaseSegment(a, 'w');
    if (piece) await completeSegment(a, 'w', piece.segment, {}, 1);
    const lease = (await leaseFinish(a)) as FinishLease;
    const folder = path.join(a.paths.deliveries, 'Fixity/one');
    mkdirSync(folder, { recursive: true });
    writeFileSync(path.join(folder, 'a.txt'), 'abc');
    // Of "abc", FIPS 180-2.
    const sha256 = 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad';
    const file = { kind: 'master', bytes: 3, note: '' } as const;
    await recordDelivery(a, {
      jobId: lease.job.id,
      token: lease.token,
      itemId: item.id,
      folders: ['Fixity/one'],
      notes: [],
      files: [{ ...file, fileName: 'a.txt', sha256 }],
    });
    const [{ id }] = await listDeliveries(a, { jobId: lease.job.id });
    expect((await checkDelivery(a, id))?.problem).toBe('');
    writeFileSync(path.join(folder, 'a.txt'), 'abd');
    writeFileSync(path.join(folder, 'b.txt'), '');
    expect((await checkDelivery(a, id))?.problem).toBe('a.txt is not what it was: its checksum differs; b.txt was added');
    const all: FixityResult[] = [];
    await checkAll(a, (result) => all.push(result));
    expect(all.filter((r) => r.problem).map((r) => r.id)).toEqual([id]);
    expect(await checkNext(a)).toBeUndefined();
    expect(await checkNext(a, Date.now() + 40 * 86_400_000)).toMatchObject({ problem: '' });
  });
});
