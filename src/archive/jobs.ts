import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import type { Plan } from '../shared/plan';
import { type Archive, inTransaction, now } from './database';
import type { JobOptions } from '../shared/jobs';
import { UNFINISHED_STATES, type Job, type JobProgress, type JobState, type Segment } from './types';

interface JobRow {
  id: string;
  item_id: string;
  plan_version: number;
  plan: string;
  options: string;
  state: JobState;
  position: number;
  frames: number;
  message: string;
  created: string;
  started: string | null;
  finished: string | null;
}

function fromRow(row: JobRow): Job {
  return {
    id: row.id,
    itemId: row.item_id,
    planVersion: row.plan_version,
    plan: JSON.parse(row.plan) as Plan,
    options: JSON.parse(row.options) as JobOptions,
    state: row.state,
    position: row.position,
    frames: row.frames,
    message: row.message,
    created: row.created,
    started: row.started,
    finished: row.finished,
  };
}

/** Milliseconds a worker may be silent before its segment is given to another. */
export const LEASE = 15_000;

/** Times a segment, or putting a job together, may fail before the job is given up. */
const MAX_ATTEMPTS = 4;

/** Why an attempt that left no word ended. */
const STOPPED = 'stopped its worker';

/** Whether a lease is over: run out, or set by a clock that has been put back since. */
const over = (q: Knex.QueryBuilder, column: string, time: number): void =>
  void q.where(column, '<', time).orWhere(column, '>', time + 2 * LEASE);

/** What a job that is given up says. */
const givenUp = (what: string, { message }: { message: string }): string =>
  `${what} ${message ? `failed ${MAX_ATTEMPTS} times; at last: ${message}` : `${STOPPED} ${MAX_ATTEMPTS} times`}`;

export async function createJob(
  { db }: Archive,
  given: {
    itemId: string;
    planVersion: number;
    plan: Plan;
    options: JobOptions;
    frames: number;
    segments: { first: number; count: number }[];
  },
): Promise<Job> {
  const id = randomUUID();
  await inTransaction(db, async (trx) => {
    const last = (await trx('jobs').max('position as position').first()) as { position: number | null };
    await trx('jobs').insert({
      id,
      item_id: given.itemId,
      plan_version: given.planVersion,
      plan: JSON.stringify(given.plan),
      options: JSON.stringify(given.options),
      state: 'queued',
      position: (last.position ?? 0) + 1,
      frames: given.frames,
      created: now(),
    });
    await trx.batchInsert(
      'segments',
      given.segments.map((s, number) => ({ job_id: id, number, first: s.first, count: s.count, state: 'waiting' })),
      50,
    );
  });
  return (await findJob({ db } as Archive, id)) as Job;
}

export async function findJob({ db }: Archive, id: string): Promise<Job | undefined> {
  const row = (await db('jobs').where({ id }).first()) as JobRow | undefined;
  return row && fromRow(row);
}

/**
 * Takes the next segment that waits or whose worker went silent, in the order of the queue.
 * @param passedOver jobs that cannot go on now.
 * @returns undefined when no segment waits.
 */
export async function leaseSegment(
  { db }: Archive,
  owner: string,
  time = Date.now(),
  passedOver: string[] = [],
): Promise<{ job: Job; segment: Segment } | undefined> {
  return inTransaction(db, async (trx) => {
    const row = (await trx('segments as s')
      .join('jobs as j', 'j.id', 's.job_id')
      .whereIn('j.state', ['queued', 'running'])
      .whereNotIn('j.id', passedOver)
      .where(
        (q) =>
          void q
            .where('s.state', 'waiting')
            .orWhere((lost) => void lost.where('s.state', 'leased').where((end) => over(end, 's.lease_until', time))),
      )
      .orderBy([{ column: 'j.position' }, { column: 's.number' }])
      .select('s.*', 'j.message')
      .first()) as { job_id: string; number: number; first: number; count: number; attempts: number; message: string } | undefined;
    if (!row) return undefined;
    if (row.attempts >= MAX_ATTEMPTS) {
      await trx('jobs')
        .where({ id: row.job_id })
        .update({ state: 'failed', message: givenUp(`segment ${row.number + 1}`, row), finished: now() });
      return undefined;
    }
    await trx('segments')
      .where({ job_id: row.job_id, number: row.number })
      .update({ state: 'leased', owner, lease_until: time + LEASE, frames_done: 0, attempts: row.attempts + 1 });
    await trx('jobs').where({ id: row.job_id }).update({ state: 'running' });
    await trx('jobs').where({ id: row.job_id }).whereNull('started').update({ started: now() });
    const job = fromRow((await trx('jobs').where({ id: row.job_id }).first()) as JobRow);
    return { job, segment: { jobId: row.job_id, number: row.number, first: row.first, count: row.count } };
  });
}

/** Keeps a lease alive. @returns false when it is no longer held, because the job was cancelled or another took over. */
export async function renewLease(
  { db }: Archive,
  owner: string,
  segment: Segment,
  framesDone: number,
  time = Date.now(),
): Promise<boolean> {
  const changed = await db('segments')
    .where({ job_id: segment.jobId, number: segment.number, owner, state: 'leased' })
    .whereIn('job_id', db('jobs').select('id').where({ state: 'running' }))
    .update({ lease_until: time + LEASE, frames_done: framesDone });
  return changed === 1;
}

/** Marks a segment as on disk and verified. */
export async function completeSegment(
  { db }: Archive,
  owner: string,
  segment: Segment,
  files: Record<string, string>,
  milliseconds: number,
): Promise<boolean> {
  const changed = await db('segments')
    .where({ job_id: segment.jobId, number: segment.number, owner, state: 'leased' })
    .update({ state: 'done', files: JSON.stringify(files), frames_done: segment.count, milliseconds });
  return changed === 1;
}

/** Gives a segment back, such as when the worker is asked to stop: that is no failure. */
export async function releaseSegment({ db }: Archive, owner: string, segment: Segment): Promise<void> {
  await db('segments')
    .where({ job_id: segment.jobId, number: segment.number, owner, state: 'leased' })
    .update({ state: 'waiting', owner: null, frames_done: 0, attempts: db.raw('max(0, attempts - 1)') });
}

/** Gives a segment back whose attempt failed from outside, such as a decoder that was killed; it is tried again. */
export async function retrySegment({ db }: Archive, owner: string, segment: Segment, why: string): Promise<void> {
  const changed = await db('segments')
    .where({ job_id: segment.jobId, number: segment.number, owner, state: 'leased' })
    .update({ state: 'waiting', owner: null, frames_done: 0 });
  if (changed) await db('jobs').where({ id: segment.jobId, state: 'running' }).update({ message: why });
}

/** Takes back all leases: for a server that starts, and so is the only one, whatever was under way is nobody's. */
export async function releaseAll({ db }: Archive): Promise<void> {
  await db('segments').where({ state: 'leased' }).update({ state: 'waiting', owner: null, frames_done: 0 });
  await db('jobs').whereNotNull('finish_token').update({ finish_token: null, finish_until: 0 });
}

/** A job that is to be put together, and the token that says who does it. */
export interface FinishLease {
  job: Job;
  token: string;
}

/** A job all of whose segments are done and that nobody is putting together. */
export async function leaseFinish({ db }: Archive, time = Date.now(), passedOver: string[] = []): Promise<FinishLease | undefined> {
  return inTransaction(db, async (trx) => {
    const row = (await trx('jobs as j')
      .where('j.state', 'running')
      .whereNotIn('j.id', passedOver)
      .where((q) => over(q, 'j.finish_until', time))
      .whereNotExists(trx('segments as s').whereRaw('s.job_id = j.id').whereNot('s.state', 'done').select(trx.raw('1')))
      .orderBy('j.position')
      .first()) as (JobRow & { finish_attempts: number }) | undefined;
    if (!row) return undefined;
    if (row.finish_attempts >= MAX_ATTEMPTS) {
      await trx('jobs')
        .where({ id: row.id })
        .update({ state: 'failed', message: givenUp('putting it together', row), finished: now() });
      return undefined;
    }
    const token = randomUUID();
    await trx('jobs')
      .where({ id: row.id })
      .update({ finish_token: token, finish_until: time + LEASE, finish_attempts: row.finish_attempts + 1 });
    return { job: fromRow(row), token };
  });
}

/** @returns false when the job was cancelled or another finishes it. */
export async function renewFinish({ db }: Archive, { job, token }: FinishLease, time = Date.now()): Promise<boolean> {
  const changed = await db('jobs')
    .where({ id: job.id, finish_token: token, state: 'running' })
    .update({ finish_until: time + LEASE });
  return changed === 1;
}

/** Gives back putting a job together; `why` where it failed from outside and counts as an attempt. */
export async function releaseFinish({ db }: Archive, { job, token }: FinishLease, why?: string): Promise<void> {
  await db('jobs')
    .where({ id: job.id, finish_token: token, state: 'running' })
    .update({
      finish_token: null,
      finish_until: 0,
      ...(why === undefined ? { finish_attempts: db.raw('max(0, finish_attempts - 1)') } : { message: why }),
    });
}

export async function segmentFiles(
  { db }: Archive,
  jobId: string,
): Promise<{ number: number; first: number; count: number; files: Record<string, string> }[]> {
  const rows = (await db('segments').where({ job_id: jobId }).orderBy('number')) as {
    number: number;
    first: number;
    count: number;
    files: string;
  }[];
  return rows.map((r) => ({ number: r.number, first: r.first, count: r.count, files: JSON.parse(r.files) as Record<string, string> }));
}

/** Sends a segment whose file is gone or changed back to be made again; the job's record will say so. */
export async function resetSegment({ db }: Archive, jobId: string, number: number): Promise<void> {
  await inTransaction(db, async (trx) => {
    await trx('segments')
      .where({ job_id: jobId, number })
      .update({ state: 'waiting', owner: null, files: null, frames_done: 0, lease_until: 0, attempts: 0 });
    const { notes } = (await trx('jobs').where({ id: jobId }).first()) as { notes: string };
    const note = `piece ${number + 1} was lost or damaged on disk and was made again`;
    await trx('jobs')
      .where({ id: jobId })
      .update({
        notes: JSON.stringify([...(JSON.parse(notes) as string[]), note]),
        finish_token: null,
        finish_until: 0,
        finish_attempts: 0,
      });
  });
}

/** What befell a job on its way. */
export async function jobNotes({ db }: Archive, id: string): Promise<string[]> {
  const { notes } = (await db('jobs').where({ id }).first()) as { notes: string };
  return JSON.parse(notes) as string[];
}

export async function endJob(
  { db }: Archive,
  id: string,
  state: 'done' | 'failed',
  message: string,
  trx?: Knex.Transaction,
): Promise<void> {
  await (trx ?? db)('jobs').where({ id, state: 'running' }).update({ state, message, finished: now() });
}

/** @returns false when the job had ended already. */
export async function cancelJob({ db }: Archive, id: string): Promise<boolean> {
  return (
    (await db('jobs')
      .where({ id })
      .whereIn('state', UNFINISHED_STATES)
      .update({ state: 'cancelled', message: 'cancelled by hand', finished: now() })) === 1
  );
}

/** The queue: running and waiting jobs in order, then the ended ones, newest first. */
export async function listJobs({ db }: Archive, limit = 200): Promise<JobProgress[]> {
  const rows = (await db('jobs as j')
    .join('items as i', 'i.id', 'j.item_id')
    .join('collections as c', 'c.id', 'i.collection_id')
    .select('j.*', 'i.name as item_name', 'i.kind as kind', 'c.id as collection_id', 'c.name as collection_name')
    .select(
      db('segments').sum('frames_done').whereRaw('job_id = j.id').as('frames_done'),
      db('segments').count('*').whereRaw('job_id = j.id').as('segments'),
      db('segments').count('*').whereRaw("job_id = j.id and state = 'done'").as('segments_done'),
      db('segments').count('*').whereRaw("job_id = j.id and state = 'leased'").as('under_way'),
      db('segments').sum('milliseconds').whereRaw("job_id = j.id and state = 'done'").as('spent'),
      db('segments').sum('count').whereRaw("job_id = j.id and state = 'done'").as('spent_frames'),
    )
    .orderByRaw(
      "case when j.state in ('running', 'queued', 'paused') then 0 else 1 end, case when j.state in ('running', 'queued', 'paused') then j.position else -j.position end",
    )
    .limit(limit)) as (JobRow & {
    item_name: string;
    kind: 'still' | 'moving';
    collection_id: string;
    collection_name: string;
    frames_done: number;
    segments: number;
    segments_done: number;
    under_way: number;
    spent: number | null;
    spent_frames: number | null;
  })[];
  return rows.map((row) => {
    const elapsed = row.started ? (Date.parse(row.finished ?? now()) - Date.parse(row.started)) / 1000 : 0;
    // Until a piece is done only the clock tells; from then on what the pieces took, whatever rests lay between them.
    const clock = row.frames_done > 0 && elapsed > 0 ? elapsed / row.frames_done : null;
    const rate = row.spent && row.spent_frames ? row.spent / 1000 / row.spent_frames / Math.max(1, row.under_way) : clock;
    return {
      ...fromRow(row),
      itemName: row.item_name,
      kind: row.kind,
      collectionId: row.collection_id,
      collectionName: row.collection_name,
      framesDone: row.frames_done,
      segments: row.segments,
      segmentsDone: row.segments_done,
      secondsPerFrame: rate,
      secondsLeft: row.state === 'running' && rate ? rate * (row.frames - row.frames_done) : null,
    };
  });
}

/** Says of a job that has not ended what it waits for; undefined when it does not. */
export async function noteOnJob({ db }: Archive, id: string, message: string): Promise<void> {
  await db('jobs').where({ id }).whereIn('state', ['queued', 'running']).whereNot({ message }).update({ message });
}

/** Jobs that could be worked on, in the order of the queue. */
export async function unfinishedJobs({ db }: Archive): Promise<Job[]> {
  const rows = (await db('jobs').whereIn('state', ['queued', 'running']).orderBy('position')) as JobRow[];
  return rows.map(fromRow);
}
