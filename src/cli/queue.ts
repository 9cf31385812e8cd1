import {
  type Archive,
  cancelJob,
  checkAll,
  findJob,
  isQueueOpen,
  type JobProgress,
  listJobs,
  moveJob,
  openArchive,
  pauseJob,
  type QueueSettings,
  queueSettings,
  resumeJob,
  retryJob,
  setQueue,
  timeOfDay,
} from '../archive';
import { CodedError } from '../core';

/** What was asked of the queue makes no sense; said in words. */
export class QueueError extends CodedError {
  constructor(message: string, options?: ErrorOptions) {
    super('queue', message, options);
  }
}

const line = (job: JobProgress, n: number): string =>
  [
    String(n).padStart(3),
    job.id.slice(0, 8),
    job.state.padEnd(9),
    `${job.framesDone}/${job.frames}`.padStart(14),
    job.itemName,
    job.message,
  ]
    .join('  ')
    .trimEnd();

function settingsText(settings: QueueSettings): string {
  const { paused, from, to, threads, memory } = settings;
  const hours = from && to ? `works from ${from} to ${to}` : 'works at all hours';
  const most = `${threads ?? 'all'} threads, ${memory ? `at most ${memory} GiB` : 'any memory'}`;
  return `queue: ${paused ? 'paused' : isQueueOpen(settings, timeOfDay()) ? 'open' : 'closed now'}; ${hours}; ${most}`;
}

/** A job by the beginning of its name. @throws QueueError when none or several begin so. */
async function jobNamed(a: Archive, name: string): Promise<string> {
  const found = (await listJobs(a, 10_000)).filter((job) => job.id.startsWith(name));
  if (found.length !== 1) throw new QueueError(found.length ? `several jobs begin with ${name}` : `there is no job ${name}`);
  return found[0].id;
}

/** `off` takes a bound away. */
function bound(text: string | undefined, what: string): number | null {
  if (text === 'off') return null;
  const value = Number(text);
  if (!text || !Number.isFinite(value) || value < 1) throw new QueueError(`${what} takes a number from 1, or off`);
  return value;
}

function hour(text: string | undefined): string {
  if (!text || !/^([01]\d|2[0-3]):[0-5]\d$/.test(text)) throw new QueueError('hours are written as 22:30');
  return text;
}

/** `wairetic queue ...` on the archive of WAIRETIC_HOME, whether its server runs or not. @returns what to print. */
export async function queueCommand([action = 'list', first, second]: string[]): Promise<string> {
  const a = await openArchive();
  try {
    const ofJob = async (work: (a: Archive, id: string) => Promise<boolean>, not: string): Promise<string> => {
      const id = await jobNamed(a, first ?? '');
      if (!(await work(a, id))) throw new QueueError(`${not}: it is ${(await findJob(a, id))?.state}`);
      return list(a);
    };
    const ofQueue = async (change: Partial<QueueSettings>): Promise<string> => settingsText(await setQueue(a, change));
    switch (action) {
      case 'list':
        return await list(a);
      case 'pause':
        return await (first ? ofJob(pauseJob, 'the job cannot be paused') : ofQueue({ paused: true }));
      case 'resume':
        return await (first ? ofJob(resumeJob, 'the job cannot go on') : ofQueue({ paused: false }));
      case 'retry':
        return await ofJob(retryJob, 'the job cannot be run again');
      case 'cancel':
        return await ofJob(cancelJob, 'the job cannot be cancelled');
      case 'move': {
        const to = bound(second, 'move') ?? 1;
        return await ofJob((archive, id) => moveJob(archive, id, to - 1), 'the job cannot be moved');
      }
      case 'hours':
        return await ofQueue(first === 'off' ? { from: null, to: null } : { from: hour(first), to: hour(second) });
      case 'threads':
        return await ofQueue({ threads: bound(first, 'threads') });
      case 'memory':
        return await ofQueue({ memory: bound(first, 'memory') });
      default:
        throw new QueueError(`queue knows no "${action}"`);
    }
  } finally {
    await a.db.destroy();
  }
}

async function list(a: Archive): Promise<string> {
  const jobs = await listJobs(a);
  return [settingsText(await queueSettings(a)), ...jobs.map((job, n) => line(job, n + 1))].join('\n');
}

/** `wairetic verify`: holds everything that is kept against its checksums. @returns what is wrong, a line each. */
export async function verifyCommand(told: (text: string) => void): Promise<number> {
  const a = await openArchive();
  let wrong = 0,
    all = 0;
  try {
    await checkAll(a, ({ name, problem }) => {
      all++;
      if (!problem) return;
      wrong++;
      told(`${name}: ${problem}`);
    });
  } finally {
    await a.db.destroy();
  }
  told(`${all} originals and deliveries checked, ${wrong} not as they were`);
  return wrong;
}
