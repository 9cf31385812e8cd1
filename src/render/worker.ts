import { randomUUID } from 'node:crypto';
import { mkdir, open, readdir, rename, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import type { Piscina } from 'piscina';
import {
  type Archive,
  checkNext,
  completeSegment,
  endJob,
  findItem,
  type FinishLease,
  isQueueOpen,
  type Item,
  type Job,
  leaseFinish,
  LeaseLost,
  leaseSegment,
  measuredStream,
  openArchive,
  queueSettings,
  releaseFinish,
  releaseSegment,
  renewFinish,
  renewLease,
  retrySegment,
  type Segment,
  timeOfDay,
  UNFINISHED_STATES,
  unfinishedJobs,
} from '../archive';
import { codeOf, layOut, monochromePlan } from '../core';
import { sha256File } from '../media';
import { made } from './bands';
import { finishJob, PiecesLost, tidyDeliveries, workFolder } from './finish';
import { threadCount, threadPool } from './pool';
import { isFullDisk, jobsWithoutRoom, memoryNeeded } from './room';
import { measureMissing } from './planAnalyses';
import { sourceRef } from './sourceRef';
import type { SegmentTask } from './segment';
import { makesMaster } from '../shared/jobs';

/** Milliseconds between signs of life, and between looks for work. */
const HEARTBEAT_MS = 1000;
const POLL_MS = 300;

/** Niceness of rendering. */
const PRIORITY = 10;

/** The worker process: takes pieces of jobs, makes them in threads, puts finished jobs together. */
class Worker {
  private stopping = false;
  private room?: { at: number; without: string[] };
  /** When the next round of checksums begins. */
  private nextCheck = 0;
  private readonly running = new Set<{ segment: Segment; state: Int32Array }>();

  constructor(
    private readonly archive: Archive,
    private readonly pool: Piscina,
    private readonly owner: string,
  ) {}

  async run(): Promise<void> {
    await this.clear();
    await tidyDeliveries(this.archive);
    await Promise.all(Array.from({ length: threadCount() }, (_, n) => this.lane(n)));
  }

  /** What the queue allows now. */
  private async allowed(): Promise<{ open: boolean; lanes: number }> {
    const settings = await queueSettings(this.archive);
    return {
      open: isQueueOpen(settings, timeOfDay()),
      lanes: Math.max(1, Math.min(settings.threads ?? Infinity, await this.lanesInMemory(settings.memory))),
    };
  }

  /** Jobs that the disk has no room for; looked up at most once a beat. */
  private async withoutRoom(): Promise<string[]> {
    if (!this.room || Date.now() - this.room.at > HEARTBEAT_MS)
      this.room = { at: Date.now(), without: await jobsWithoutRoom(this.archive) };
    return this.room.without;
  }

  /** How many pieces of the next job fit into a bound of memory, in GiB. */
  private async lanesInMemory(memory: number | null): Promise<number> {
    const [job] = memory === null ? [] : await unfinishedJobs(this.archive);
    const item = job && (await findItem(this.archive, job.itemId));
    if (memory === null || !item) return Infinity;
    const streams = [...layOut(job.plan, measuredStream(item)).nodes.values()].map(({ stream }) => stream);
    return Math.floor((memory * 2 ** 30) / Math.max(...streams.map(memoryNeeded)));
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
    const going = (await this.archive.db('jobs').whereIn('state', UNFINISHED_STATES).pluck('id')) as string[];
    for (const name of await readdir(this.archive.paths.work)) {
      if (!going.includes(name)) await rm(path.join(this.archive.paths.work, name), { recursive: true, force: true });
    }
  }

  private async lane(number: number): Promise<void> {
    while (!this.stopping) {
      const { open, lanes } = await this.allowed();
      if (!open || number >= lanes) {
        await pause(POLL_MS);
        continue;
      }
      const withoutRoom = await this.withoutRoom();
      // What is rendered is handed over before the next job's pieces are begun.
      const finishing = await leaseFinish(this.archive, Date.now(), withoutRoom);
      if (finishing) {
        await this.finish(finishing);
        continue;
      }
      const leased = await leaseSegment(this.archive, this.owner, Date.now(), withoutRoom);
      if (leased) await this.segment(leased.job, leased.segment);
      else if (number > 0 || !(await this.idle())) await pause(POLL_MS);
    }
  }

  /** Between jobs, what has long not been held against its checksum is. @returns whether there was something. */
  private async idle(): Promise<boolean> {
    if (Date.now() < this.nextCheck) return false;
    const checked = await checkNext(this.archive);
    if (checked?.problem) console.error(`fixity: ${checked.name}: ${checked.problem}`);
    if (!checked) this.nextCheck = Date.now() + 3_600_000;
    return checked !== undefined;
  }

  /** Keeps a piece, unless its job was stopped or the queue closed; then it goes back. */
  private async held(segment: Segment, state: Int32Array): Promise<boolean> {
    if ((await this.allowed()).open) return renewLease(this.archive, this.owner, segment, Atomics.load(state, 0));
    await releaseSegment(this.archive, this.owner, segment);
    return false;
  }

  private async segment(job: Job, segment: Segment): Promise<void> {
    const state = new Int32Array(new SharedArrayBuffer(8));
    const entry = { segment, state };
    this.running.add(entry);
    const beat = setInterval(() => {
      void this.held(segment, state).then((held) => {
        if (!held) Atomics.store(state, 1, 1);
      });
    }, HEARTBEAT_MS);
    let written: Record<string, string> = {};
    try {
      const item = (await findItem(this.archive, job.itemId)) as Item;
      const folder = workFolder(this.archive, job.id);
      await mkdir(folder, { recursive: true });
      const outputs = outputNames(job, item, segment.number);
      const temporary = (name: string): string => path.join(folder, `${this.owner.slice(0, 8)}-${Date.now()}-${name}`);
      written = Object.fromEntries(Object.entries(outputs).map(([kind, name]) => [kind, temporary(name)]));
      await measureMissing(this.archive, item, job.plan);
      const still = { kind: job.options.stillMaster, space: job.options.stillSpace ?? 'source' } as const;
      const task: SegmentTask = {
        source: await sourceRef(this.archive, item),
        plan: job.plan,
        first: segment.first,
        count: segment.count,
        master: written.master ? { path: written.master, still } : undefined,
        monochrome: written.monochrome ? { path: written.monochrome, still } : undefined,
        access: written.access
          ? {
              path: written.access,
              still: { kind: job.options.stillAccess ?? 'jpeg', quality: job.options.accessQuality, under: job.options.accessUnder },
            }
          : undefined,
        ppi: job.options.ppi,
        shared: state.buffer,
      };
      // While nothing else is at work, a still gets all threads.
      const milliseconds = await made(this.pool, task, this.running.size > 1 ? 1 : (await this.allowed()).lanes);
      const files: Record<string, string> = {};
      for (const [kind, from] of Object.entries(written)) {
        await sync(from);
        files[`${kind}Sha256`] = await sha256File(from);
        files[kind] = outputs[kind as keyof typeof outputs] as string;
        await rename(from, path.join(folder, files[kind]));
      }
      await completeSegment(this.archive, this.owner, segment, files, milliseconds);
    } catch (error) {
      const { message } = error as Error;
      if (this.stopping || Atomics.load(state, 1) === 1) return;
      // A full disk is no fault of the job: it waits until there is room.
      if (isFullDisk(error as Error)) await releaseSegment(this.archive, this.owner, segment);
      else if (codeOf(error) === 'interrupted') await retrySegment(this.archive, this.owner, segment, message);
      else {
        await endJob(this.archive, job.id, 'failed', message);
        await this.clear();
      }
    } finally {
      clearInterval(beat);
      for (const file of Object.values(written)) await rm(file, { force: true });
      this.running.delete(entry);
      if (Atomics.load(state, 1) === 1) await this.clear();
    }
  }

  private async finish(lease: FinishLease): Promise<void> {
    const { job } = lease;
    const beat = setInterval(() => void renewFinish(this.archive, lease), HEARTBEAT_MS);
    try {
      await finishJob(this.archive, lease);
      await rm(workFolder(this.archive, job.id), { recursive: true, force: true });
    } catch (error) {
      const { message } = error as Error;
      if (error instanceof PiecesLost) return;
      if (error instanceof LeaseLost) await this.clear();
      else if (isFullDisk(error as Error)) await releaseFinish(this.archive, lease);
      else if (codeOf(error) === 'interrupted') await releaseFinish(this.archive, lease, message);
      else {
        await endJob(this.archive, job.id, 'failed', message);
        await this.clear();
      }
    } finally {
      clearInterval(beat);
    }
  }
}

function outputNames(job: Job, item: Item, number: number): { master?: string; monochrome?: string; access?: string } {
  const stem = String(number).padStart(6, '0');
  const still = item.kind === 'still';
  return {
    ...(job.options.master && monochromePlan(job.plan) && { monochrome: `${stem}.monochrome.${still ? job.options.stillMaster : 'mkv'}` }),
    ...((still ? makesMaster(job.options) : job.options.master) && { master: `${stem}.master.${still ? job.options.stillMaster : 'mkv'}` }),
    ...(job.options.access && { access: `${stem}.access.${still ? (job.options.stillAccess ?? 'jpeg') : 'nut'}` }),
  };
}

const pause = (milliseconds: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, milliseconds));

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
