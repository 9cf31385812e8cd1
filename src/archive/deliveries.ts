import { randomUUID } from 'node:crypto';
import { type Archive, inTransaction, now } from './database';
import type { Deliverable, DeliverableKind, Delivery } from './types';

interface DeliveryRow {
  id: string;
  job_id: string;
  item_id: string;
  folder: string;
  notes: string;
  created: string;
  checked: string | null;
  problem: string;
  item_name: string;
  collection_name: string;
}

interface FileRow {
  delivery_id: string;
  kind: DeliverableKind;
  file_name: string;
  bytes: number;
  sha256: string;
  note: string;
}

/** Raised when a job was cancelled, or taken over by another, before it was handed over. */
export class LeaseLost extends Error {
  override name = 'LeaseLost';
}

/**
 * Records a delivery and ends its job, in one: the folder is recorded first and gets its name afterwards, so that nothing is handed over
 * twice, or without its job.
 *
 * @param given.folders names for the folder, the best first; the first that no delivery has is taken.
 * @returns the folder's name.
 * @throws LeaseLost when the job is not this holder's any more.
 */
export async function recordDelivery(
  { db }: Archive,
  given: { jobId: string; token: string; itemId: string; folders: Iterable<string>; notes: string[]; files: Deliverable[] },
): Promise<string> {
  return inTransaction(db, async (trx) => {
    const id = randomUUID();
    const ended = await trx('jobs')
      .where({ id: given.jobId, state: 'running', finish_token: given.token })
      .update({ state: 'done', message: '', finished: now() });
    if (ended === 0) throw new LeaseLost('the job was cancelled or is put together by another');
    const taken = new Set((await trx('deliveries').pluck('folder')) as string[]);
    let folder = '';
    for (folder of given.folders) if (!taken.has(folder)) break;
    await trx('deliveries').insert({
      id,
      job_id: given.jobId,
      item_id: given.itemId,
      folder,
      notes: JSON.stringify(given.notes),
      created: now(),
    });
    for (const file of given.files) {
      await trx('deliverables').insert({
        delivery_id: id,
        kind: file.kind,
        file_name: file.fileName,
        bytes: file.bytes,
        sha256: file.sha256,
        note: file.note,
      });
    }
    return folder;
  });
}

/** Deliveries, newest first; of one item when given. */
export async function listDeliveries({ db }: Archive, filter: { itemId?: string; jobId?: string; id?: string } = {}): Promise<Delivery[]> {
  const query = db('deliveries as d')
    .join('items as i', 'i.id', 'd.item_id')
    .join('collections as c', 'c.id', 'i.collection_id')
    .select('d.*', 'i.name as item_name', 'c.name as collection_name')
    .orderBy('d.created', 'desc');
  if (filter.itemId) void query.where('d.item_id', filter.itemId);
  if (filter.jobId) void query.where('d.job_id', filter.jobId);
  if (filter.id) void query.where('d.id', filter.id);
  const rows = (await query) as DeliveryRow[];
  const files = (await db('deliverables')
    .whereIn(
      'delivery_id',
      rows.map((r) => r.id),
    )
    .orderBy('id')) as FileRow[];
  return rows.map((row) => ({
    id: row.id,
    jobId: row.job_id,
    itemId: row.item_id,
    itemName: row.item_name,
    collectionName: row.collection_name,
    folder: row.folder,
    notes: JSON.parse(row.notes) as string[],
    created: row.created,
    checked: row.checked,
    problem: row.problem,
    files: files
      .filter((f) => f.delivery_id === row.id)
      .map((f) => ({ kind: f.kind, fileName: f.file_name, bytes: f.bytes, sha256: f.sha256, note: f.note })),
  }));
}
