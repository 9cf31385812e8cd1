import { randomUUID } from 'node:crypto';
import { mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import type { Piscina } from 'piscina';
import { openArchive, type Archive } from '../archive/database';
import { NoLongerHeld } from '../archive/deliveries';
import { findItem, measuredStream, probedItem, sourcePath } from '../archive/items';
import {
  completeSegment,
  endJob,
  leaseFinish,
  leaseSegment,
  releaseFinish,
  releaseSegment,
  renewFinish,
  renewLease,
  retrySegment,
  type FinishLease,
} from '../archive/jobs';
import type { Item, Job, Segment } from '../archive/types';
import { sha256File } from '../media/checksum';
import { finishJob, PiecesLost, tidyDeliveries, workFolder } from './finish';
import { threadCount, threadPool } from './pool';
import type { SegmentTask } from './segment';

/** Milliseconds between signs of life, and between looks for work. */
const BEAT = 1000;
const LOOK = 300;

/** Niceness of rendering. */
const PRIORITY = 10;

/** The worker process: takes pieces of jobs, makes them in threads, puts finished jobs together. */
class Worker {
  private stopping = false;
  private readonly running = new Set<{ segment: Segment; state: Int32Array }>();

  constructor(
    private readonly archive: Archive,
    private readonly pool: Piscina,
    private readonly owner: string,
  ) {}

  async run(): Promise<void> {
    await this.clear();
    await tidyDeliveries(this.archive);
    await Promise.all(Array.from({ length: threadCount() }, () => this.lane()));
  }

  /** Gives running pieces back, so that another worker can take them at once. */
  async stop(): Promise<void> {
    this.stopping = true;
    for (const { segment, state } of this.running) {
      Atomics.store(state, 1, 1);
      await releaseSegment(this.archive, this.owner, segment);
    }
  }

  /** Removes what jobs left behind that will not go on. */
  private async clear(): Promise<void> {
    const going = (await this.archive.db('jobs').whereIn('state', ['queued', 'running']).pluck('id')) as string[];
    for (const name of await readdir(this.archive.paths.work)) {
      if (!going.includes(name)) await rm(path.join(this.archive.paths.work, name), { recursive: true, force: true });
    }
  }

  private async lane(): Promise<void> {
    while (!this.stopping) {
      const leased = await leaseSegment(this.archive, this.owner);
      if (leased) {
        await this.segment(leased.job, leased.segment);
        continue;
      }
      const finishing = await leaseFinish(this.archive);
      if (finishing) await this.finish(finishing);
      else await new Promise((resolve) => setTimeout(resolve, LOOK));
    }
  }

  private async segment(job: Job, segment: Segment): Promise<void> {
    const state = new Int32Array(new SharedArrayBuffer(8));
    const entry = { segment, state };
    this.running.add(entry);
    const beat = setInterval(() => {
      void renewLease(this.archive, this.owner, segment, Atomics.load(state, 0)).then((held) => {
        if (!held) Atomics.store(state, 1, 1);
      });
    }, BEAT);
    try {
      const item = (await findItem(this.archive, job.itemId)) as Item;
      const folder = workFolder(this.archive, job.id);
      await mkdir(folder, { recursive: true });
      const outputs = outputNames(job, item, segment.number);
      const temporary = (name: string): string => path.join(folder, `${this.owner.slice(0, 8)}-${Date.now()}-${name}`);
      const written = Object.fromEntries(Object.entries(outputs).map(([kind, name]) => [kind, temporary(name)]));
      const task: SegmentTask = {
        source: {
          path: sourcePath(this.archive, item),
          key: item.sha256,
          probed: await probedItem(this.archive, item),
          info: measuredStream(item),
        },
        plan: job.plan,
        first: segment.first,
        count: segment.count,
        master: written.master ? { path: written.master, still: job.options.stillMaster } : undefined,
        access: written.access ? { path: written.access } : undefined,
        ppi: job.options.ppi,
        shared: state.buffer,
      };
      const { milliseconds } = (await this.pool.run(task)) as { milliseconds: number };
      const files: Record<string, string> = {};
      for (const [kind, from] of Object.entries(written)) {
        await sync(from);
        files[`${kind}Sha256`] = await sha256File(from);
        files[kind] = outputs[kind as 'master' | 'access'] as string;
        await rename(from, path.join(folder, files[kind]));
      }
      await completeSegment(this.archive, this.owner, segment, files, milliseconds);
    } catch (error) {
      const { name, message } = error as Error;
      if (this.stopping || Atomics.load(state, 1) === 1) return;
      if (name === 'Interrupted') await retrySegment(this.archive, this.owner, segment, message);
      else {
        await endJob(this.archive, job.id, 'failed', message);
        await this.clear();
      }
    } finally {
      clearInterval(beat);
      this.running.delete(entry);
      if (Atomics.load(state, 1) === 1) await this.clear();
    }
  }

  private async finish(lease: FinishLease): Promise<void> {
    const { job } = lease;
    const beat = setInterval(() => void renewFinish(this.archive, lease), BEAT);
    try {
      await finishJob(this.archive, lease);
      await rm(workFolder(this.archive, job.id), { recursive: true, force: true });
    } catch (error) {
      const { name, message } = error as Error;
      if (error instanceof PiecesLost) return;
      if (error instanceof NoLongerHeld) await this.clear();
      else if (name === 'Interrupted') await releaseFinish(this.archive, lease, message);
      else {
        await endJob(this.archive, job.id, 'failed', message);
        await this.clear();
      }
    } finally {
      clearInterval(beat);
    }
  }
}

function outputNames(job: Job, item: Item, number: number): { master?: string; access?: string } {
  const stem = String(number).padStart(6, '0');
  const still = item.kind === 'still';
  return {
    ...(job.options.master && { master: `${stem}.master.${still ? job.options.stillMaster : 'mkv'}` }),
    ...(job.options.access && { access: `${stem}.access.${still ? 'jpg' : 'nut'}` }),
  };
}

async function sync(file: string): Promise<void> {
  const handle = await open(file, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

// Whoever looks at proofs goes first; threads and tools started from here inherit this.
os.setPriority(PRIORITY);
const pool = threadPool('render-thread', threadCount());
const worker = new Worker(await openArchive(), pool, process.env.WAIRETIC_WORKER ?? randomUUID());
const leave = (): void => void worker.stop().finally(() => process.exit(0));
process.on('SIGTERM', leave);
process.on('SIGINT', leave);
// The server that started this worker is gone: pieces go back, the next server starts another worker.
process.on('disconnect', leave);
await worker.run();
