import type { Knex } from 'knex';
import { type Archive, inTransaction } from './database';
import { UNFINISHED_STATES, type QueueSettings } from './types';

/** What a restorer does with the queue: stop and go on, another order, once more, and when and with how much it may work. */

export const DEFAULT_QUEUE: QueueSettings = { paused: false, from: null, to: null, threads: null, memory: null };

const NAME = 'queue';

export async function queueSettings({ db }: Archive): Promise<QueueSettings> {
  const row = (await db('settings').where({ name: NAME }).first()) as { value: string } | undefined;
  return { ...DEFAULT_QUEUE, ...(row && (JSON.parse(row.value) as Partial<QueueSettings>)) };
}

/** Changes what is named and keeps the rest. */
export async function setQueue(a: Archive, change: Partial<QueueSettings>): Promise<QueueSettings> {
  return inTransaction(a.db, async (trx) => {
    const settings = { ...(await queueSettings({ ...a, db: trx })), ...change };
    await trx('settings')
      .insert({ name: NAME, value: JSON.stringify(settings) })
      .onConflict('name')
      .merge();
    return settings;
  });
}

/** Whether the queue works at a time of day, `HH:MM` as the machine's clock shows it; hours may go over midnight. */
export function isQueueOpen({ paused, from, to }: QueueSettings, time: string): boolean {
  if (paused) return false;
  if (!from || !to || from === to) return true;
  return from < to ? time >= from && time < to : time >= from || time < to;
}

/** The machine's time of day. */
export const timeOfDay = (date = new Date()): string =>
  `${String(date.getHours()).padStart(2, '0')}:${String(date.getMinutes()).padStart(2, '0')}`;

/** Pieces under way go back; their attempts do not count. */
const giveBack = (trx: Knex.Transaction, jobId: string): Promise<unknown> =>
  trx('segments')
    .where({ job_id: jobId, state: 'leased' })
    .update({ state: 'waiting', owner: null, frames_done: 0, attempts: trx.raw('max(0, attempts - 1)') });

/** @returns false when the job has ended or is paused already. */
export async function pauseJob({ db }: Archive, id: string): Promise<boolean> {
  return inTransaction(db, async (trx) => {
    const changed = await trx('jobs').where({ id }).whereIn('state', ['queued', 'running']).update({
      state: 'paused',
      message: 'paused by hand',
      finish_token: null,
      finish_until: 0,
    });
    if (changed) await giveBack(trx, id);
    return changed === 1;
  });
}

/** @returns false when the job is not paused. */
export async function resumeJob({ db }: Archive, id: string): Promise<boolean> {
  const state = db.raw("case when started is null then 'queued' else 'running' end");
  return (await db('jobs').where({ id, state: 'paused' }).update({ state, message: '' })) === 1;
}

/** Puts a failed or cancelled job into the queue once more, at its end. @returns false when it is neither. */
export async function retryJob({ db }: Archive, id: string): Promise<boolean> {
  return inTransaction(db, async (trx) => {
    const { last } = (await trx('jobs').max('position as last').first()) as { last: number };
    const changed = await trx('jobs')
      .where({ id })
      .whereIn('state', ['failed', 'cancelled'])
      .update({
        state: 'queued',
        message: '',
        started: null,
        finished: null,
        position: last + 1,
        finish_attempts: 0,
        finish_token: null,
        finish_until: 0,
      });
    // What it had made went when it ended.
    if (changed)
      await trx('segments')
        .where({ job_id: id })
        .update({ state: 'waiting', owner: null, files: null, frames_done: 0, attempts: 0, milliseconds: 0 });
    return changed === 1;
  });
}

/** Moves a job among those that have not ended. @param to place from 0. @returns false when it has ended. */
export async function moveJob({ db }: Archive, id: string, to: number): Promise<boolean> {
  return inTransaction(db, async (trx) => {
    const rows = (await trx('jobs').whereIn('state', UNFINISHED_STATES).orderBy('position').select()) as {
      id: string;
      position: number;
    }[];
    const from = rows.findIndex((row) => row.id === id);
    if (from < 0) return false;
    const order = rows.map((row) => row.id);
    order.splice(from, 1);
    order.splice(Math.min(order.length, Math.max(0, to)), 0, id);
    for (const [n, jobId] of order.entries()) await trx('jobs').where({ id: jobId }).update({ position: rows[n].position });
    return true;
  });
}
