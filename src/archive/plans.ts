import type { Knex } from 'knex';
import type { Plan } from '../shared/plan';
import { stamped } from '../core';
import { type Archive, inTransaction, now } from './database';
import type { PlanHistory, PlanVersion } from './types';

/**
 * An item's plans are a tree: a change makes a new version below the one it was made on, and becomes the present one. Going
 * back keeps what was ahead: the tip is the newest version of the branch one is on, and redo walks towards it.
 */

interface PlanRow {
  version: number;
  parent: number | null;
  name: string;
  plan: string;
  change: string;
  created: string;
}

/** Versions told to the interface; older ones stay in the archive, named ones are always told. */
const MAX_TOLD = 500;

const fromRow = (row: PlanRow): PlanVersion => ({
  version: row.version,
  parent: row.parent,
  name: row.name,
  plan: JSON.parse(row.plan) as Plan,
  change: row.change,
  created: row.created,
});

async function placesOf(db: Knex, itemId: string): Promise<{ current: number; tip: number }> {
  const row = await db('items')
    .where({ id: itemId })
    .first<{ plan_version: number; plan_tip: number } | undefined>('plan_version', 'plan_tip');
  return { current: row?.plan_version ?? 0, tip: row?.plan_tip ?? 0 };
}

async function versionRow(db: Knex, itemId: string, version: number): Promise<PlanRow | undefined> {
  return (await db('plans').where({ item_id: itemId, version }).first()) as PlanRow | undefined;
}

/** The version of an item's plan that holds now. */
export async function currentPlan({ db }: Archive, itemId: string): Promise<PlanVersion | undefined> {
  const row = await versionRow(db, itemId, (await placesOf(db, itemId)).current);
  return row && fromRow(row);
}

/** All that was changed and where one is in it. */
export async function planHistory({ db }: Archive, itemId: string): Promise<PlanHistory> {
  const places = await placesOf(db, itemId);
  const { last } = (await db('plans').where({ item_id: itemId }).max('version as last').first()) as { last: number | null };
  const rows = (await db('plans')
    .where({ item_id: itemId })
    .where((q) => void q.where('version', '>', (last ?? 0) - MAX_TOLD).orWhereNot('name', ''))
    .orderBy('version')) as PlanRow[];
  return { versions: rows.map(fromRow), ...places };
}

/**
 * Keeps a plan, stamped with the treatments' versions, as a new version and makes it the present one; a plan that is the same as
 * the present one is not kept twice.
 */
export const savePlan = (a: Archive, itemId: string, plan: Plan, change: string): Promise<PlanVersion> =>
  inTransaction(a.db, (trx) => savePlanIn(trx, itemId, plan, change));

/** Saves a plan as `savePlan` does, within a transaction that is under way; a plan that says nothing new makes no version. */
export async function savePlanIn(trx: Knex, itemId: string, plan: Plan, change: string): Promise<PlanVersion> {
  const { current } = await placesOf(trx, itemId);
  const present = await versionRow(trx, itemId, current);
  const text = JSON.stringify(stamped(plan));
  if (present?.plan === text) return fromRow(present);
  const { last } = (await trx('plans').where({ item_id: itemId }).max('version as last').first()) as { last: number | null };
  const row: PlanRow = { version: (last ?? 0) + 1, parent: present?.version ?? null, name: '', plan: text, change, created: now() };
  await trx('plans').insert({ item_id: itemId, ...row });
  await trx('items').where({ id: itemId }).update({ plan_version: row.version, plan_tip: row.version });
  return fromRow(row);
}

/**
 * Makes another version the present one.
 * @returns it; undefined when there is none of that number.
 */
export async function goToVersion(a: Archive, itemId: string, version: number): Promise<PlanVersion | undefined> {
  return inTransaction(a.db, async (trx) => {
    const row = await versionRow(trx, itemId, version);
    if (!row) return undefined;
    const { tip } = await placesOf(trx, itemId);
    const onBranch = await isAncestor(trx, itemId, version, tip);
    await trx('items')
      .where({ id: itemId })
      .update({ plan_version: version, ...(!onBranch && { plan_tip: version }) });
    return fromRow(row);
  });
}

async function isAncestor(db: Knex, itemId: string, version: number, of: number): Promise<boolean> {
  const parents = await db('plans').where({ item_id: itemId }).select<Pick<PlanRow, 'version' | 'parent'>[]>('version', 'parent');
  const parentOf = new Map(parents.map((p) => [p.version, p.parent]));
  for (let at: number | null | undefined = of; at; at = parentOf.get(at)) if (at === version) return true;
  return false;
}

/** Gives a version a name, or takes it away. @returns whether there is such a version. */
export async function nameVersion({ db }: Archive, itemId: string, version: number, name: string): Promise<boolean> {
  return (await db('plans').where({ item_id: itemId, version }).update({ name })) > 0;
}
