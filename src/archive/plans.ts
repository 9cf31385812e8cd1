import type { Plan } from '../core/plan/plan';
import { now, type Archive } from './database';
import type { PlanVersion } from './types';

interface PlanRow {
  version: number;
  plan: string;
  change: string;
  created: string;
}

const fromRow = (row: PlanRow): PlanVersion => ({
  version: row.version,
  plan: JSON.parse(row.plan) as Plan,
  change: row.change,
  created: row.created,
});

/** The newest version of an item's plan. */
export async function currentPlan({ db }: Archive, itemId: string): Promise<PlanVersion | undefined> {
  const row = (await db('plans').where({ item_id: itemId }).orderBy('version', 'desc').first()) as PlanRow | undefined;
  return row && fromRow(row);
}

export async function planVersions({ db }: Archive, itemId: string): Promise<PlanVersion[]> {
  return ((await db('plans').where({ item_id: itemId }).orderBy('version')) as PlanRow[]).map(fromRow);
}

/** Keeps a plan as the item's next version; a plan that is the same as the newest is not kept twice. */
export async function savePlan(a: Archive, itemId: string, plan: Plan, change: string): Promise<PlanVersion> {
  return a.db.transaction(async (trx) => {
    const last = (await trx('plans').where({ item_id: itemId }).orderBy('version', 'desc').first()) as PlanRow | undefined;
    const text = JSON.stringify(plan);
    if (last?.plan === text) return fromRow(last);
    const row: PlanRow = { version: (last?.version ?? 0) + 1, plan: text, change, created: now() };
    await trx('plans').insert({ item_id: itemId, ...row });
    return fromRow(row);
  });
}
