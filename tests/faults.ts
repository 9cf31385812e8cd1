import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { PlainPlan } from '../src/shared/plan';
import type { Collection, Delivery, Item, Job, JobProgress } from '../src/archive/types';
import { randomStream } from '../src/core/picture/random';
import { makeInterlaced } from './media';
import type { TestServer } from './server';
import type { ItemAnswer } from '../src/archive';

/** What is killed, and the part of its command line it is found by. */
const PROCESSES = { worker: 'worker.mjs', tool: 'ffmpeg', examiner: 'examiner.mjs', server: 'server.mjs' };

export interface Fault {
  target: keyof typeof PROCESSES;
  /** In which work: taking in and examining, rendering, putting together. */
  moment: 'intake' | 'render' | 'delivery';
}

export const FAULTS: Fault[] = [
  ...(['intake', 'render', 'delivery'] as const).flatMap((moment) =>
    (['worker', 'server', 'tool'] as const).map((target) => ({ moment, target })),
  ),
  { moment: 'intake', target: 'examiner' },
];

/** What came of a fault. */
export interface Outcome extends Fault {
  /** Whether something was there to be killed. */
  hit: boolean;
  /** Whether the work came to its end by itself, with one delivery whose bytes are those of an undisturbed run. */
  whole: boolean;
}

/** Milliseconds a disturbed work may take to its end. */
const PATIENCE = 90_000;
/** Length of the clip: its pieces take longer than the looks before a fault, also on a fast machine. */
const SECONDS = 5;
/** Milliseconds between looks; faults come at seeded counts of looks, so that a slow machine is hit at the same places. */
const POLL_MS = 40;

const sleep = (milliseconds: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Kills parts of a running application at seeded moments, and judges what comes of it. */
export class FaultRun {
  private readonly random: () => number;
  private readonly folder = mkdtempSync(path.join(tmpdir(), 'wairetic-faults-'));
  private expected = '';
  private collection = '';

  constructor(
    private readonly server: TestServer,
    seed: number,
  ) {
    this.random = randomStream(seed);
  }

  /** Renders once undisturbed. */
  async begin(): Promise<void> {
    makeInterlaced(path.join(this.folder, 'clip.mkv'), SECONDS, '352x240');
    ({ id: this.collection } = await this.server.api<Collection>('collections', { name: 'Undisturbed' }));
    const item = await this.takenIn();
    const delivery = await this.delivered(await this.start(item));
    this.expected = masterOf(delivery);
  }

  end(): void {
    rmSync(this.folder, { recursive: true });
  }

  /** One fault, and what comes of it. */
  async hit(fault: Fault): Promise<Outcome> {
    ({ id: this.collection } = await this.server.api<Collection>('collections', { name: `${fault.moment} ${fault.target}` }));
    let hit = false;
    const strike = async (): Promise<void> => {
      hit = await this.kill(fault.target);
    };
    try {
      if (fault.moment === 'intake') {
        const taking = this.server
          .api(`collections/${this.collection}/takein`, { path: path.join(this.folder, 'clip.mkv') })
          .catch(() => undefined);
        await sleep(POLL_MS * Math.floor(20 * this.random()));
        await strike();
        await taking;
      }
      const item = await this.takenIn();
      const job = await this.start(item);
      if (fault.moment === 'render') await this.when(job, ({ framesDone }) => framesDone > 0, Math.floor(6 * this.random()), strike);
      if (fault.moment === 'delivery') await this.when(job, (j) => j.segmentsDone === j.segments, Math.floor(3 * this.random()), strike);
      const delivery = await this.delivered(job);
      return { ...fault, hit, whole: masterOf(delivery) === this.expected && this.leftovers().length === 0 };
    } catch (error) {
      console.error(`${fault.moment}, ${fault.target}: ${(error as Error).message}`);
      return { ...fault, hit, whole: false };
    }
  }

  /** What ended work must not leave behind. */
  private leftovers(): string[] {
    const at = (name: string): string[] => readdirSync(path.join(this.server.home, name));
    return [...at('deliveries').filter((name) => name.startsWith('.')), ...at('uploads')];
  }

  /** The clip as an examined item; taken in again when a fault kept it out. */
  private async takenIn(): Promise<Item> {
    const started = Date.now();
    for (let asked = false; Date.now() - started < PATIENCE; await sleep(200)) {
      const { items } = await this.server.api<{ items: Item[] }>(`collections/${this.collection}`);
      if (items.length > 1) throw new Error(`${items.length} items of one file`);
      if (items.length === 0 && !asked) {
        await this.server.api(`collections/${this.collection}/takein`, { path: path.join(this.folder, 'clip.mkv') });
        asked = true;
      } else if (items[0]?.state === 'ready') return items[0];
      else if (items[0]?.state === 'failed') throw new Error(items[0].message);
    }
    throw new Error('it was never taken in');
  }

  /** Puts the clip into the queue with fields alone. */
  private async start(item: Item): Promise<Job> {
    const { plan } = await this.server.api<ItemAnswer>(`items/${item.id}`);
    const steps = (plan?.plan as PlainPlan).steps.map((s) => ({ ...s, on: s.treatment === 'deinterlace' }));
    await this.server.api(`items/${item.id}/plan`, { plan: { ...plan?.plan, steps }, change: 'fields alone' }, 'PUT');
    return this.server.api<Job>('jobs', { itemId: item.id, access: false });
  }

  private async job(id: string): Promise<JobProgress | undefined> {
    return (await this.server.api<JobProgress[]>('jobs')).find((j) => j.id === id);
  }

  /** Strikes a number of looks after a job has come so far, or at its end. */
  private async when({ id }: Job, far: (job: JobProgress) => boolean, looks: number, strike: () => Promise<void>): Promise<void> {
    let seen = 0;
    for (const started = Date.now(); Date.now() - started < PATIENCE; await sleep(POLL_MS)) {
      const job = await this.job(id);
      if (!job || job.state === 'done') return;
      if (far(job) && seen++ >= looks) return strike();
    }
  }

  private async delivered({ id }: Job): Promise<Delivery> {
    for (const started = Date.now(); Date.now() - started < PATIENCE; await sleep(200)) {
      const job = await this.job(id);
      if (job?.state === 'failed') throw new Error(job.message);
      if (job?.state !== 'done') continue;
      const deliveries = (await this.server.api<Delivery[]>('deliveries')).filter((d) => d.jobId === id);
      if (deliveries.length !== 1) throw new Error(`${deliveries.length} deliveries of one job`);
      return deliveries[0];
    }
    throw new Error('it was never delivered');
  }

  /** @returns whether there was something to kill. */
  private async kill(target: Fault['target']): Promise<boolean> {
    if (target === 'server') {
      this.server.kill();
      await this.server.start();
      return true;
    }
    const pids = this.server.processes(PROCESSES[target]);
    const pid = pids[Math.floor(pids.length * this.random())];
    if (pid === undefined) return false;
    try {
      process.kill(pid, 'SIGKILL');
      return true;
    } catch {
      return false;
    }
  }
}

const masterOf = (delivery: Delivery): string => delivery.files.find((f) => f.kind === 'master')?.sha256 ?? 'none';
