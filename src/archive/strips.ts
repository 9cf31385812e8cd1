import { randomUUID } from 'node:crypto';
import { PlanError, readPlan, type StreamInfo } from '../core';
import { mapSteps, stepOf, type PlanStep } from '../shared/plan';
import { MAX_CANDIDATES, MIN_CANDIDATES } from '../shared/strips';
import { type Archive, inTransaction, now } from './database';
import type { Strip, StripContent, StripFigures } from './types';

/** Test strips: a step of a plan under several settings on one piece of a picture, kept with the item. */

interface StripRow {
  id: string;
  item_id: string;
  content: string;
  created: string;
}

const fromRow = (row: StripRow): Strip => ({
  id: row.id,
  itemId: row.item_id,
  created: row.created,
  ...(JSON.parse(row.content) as StripContent),
});

/**
 * A strip from what a request holds.
 * @throws PlanError where a candidate's step is no step, or there are too few or too many of them.
 */
export function readStrip(
  given: Pick<StripContent, 'plan' | 'step' | 'about' | 'frame' | 'region' | 'candidates'>,
  source: StreamInfo,
): StripContent {
  const plan = readPlan(given.plan, source);
  if (!stepOf(plan, given.step)) throw new PlanError('The step the strip is about is not in the plan.');
  const { length } = given.candidates;
  if (length < MIN_CANDIDATES || length > MAX_CANDIDATES)
    throw new PlanError(`A test strip shows ${MIN_CANDIDATES} to ${MAX_CANDIDATES} candidates, not ${length}.`);
  const candidates = given.candidates.map(({ label, step }) => {
    const tried = mapSteps(plan, (s) => (s.id === given.step ? { ...step, id: given.step } : s));
    return { label: label.slice(0, 80), step: stepOf(readPlan(tried), given.step) as PlanStep };
  });
  return { plan, step: given.step, about: given.about, frame: given.frame, region: given.region, candidates, chosen: null };
}

export async function saveStrip({ db }: Archive, itemId: string, content: StripContent): Promise<Strip> {
  const row: StripRow = { id: randomUUID(), item_id: itemId, content: JSON.stringify(content), created: now() };
  await db('strips').insert(row);
  return fromRow(row);
}

/** An item's strips, the newest first. */
export async function listStrips({ db }: Archive, itemId: string): Promise<Strip[]> {
  return ((await db('strips').where({ item_id: itemId }).orderBy('created', 'desc')) as StripRow[]).map(fromRow);
}

/**
 * Keeps what was measured of a strip's candidates, or which was taken.
 * @returns the strip; undefined where the item has none of that name.
 */
export async function updateStrip(
  { db }: Archive,
  itemId: string,
  id: string,
  told: { chosen?: number; figures?: (StripFigures | null)[] },
): Promise<Strip | undefined> {
  return inTransaction(db, async (trx) => {
    const row = (await trx('strips').where({ id, item_id: itemId }).first()) as StripRow | undefined;
    if (!row) return undefined;
    const content = JSON.parse(row.content) as StripContent;
    const candidates = content.candidates.map((c, n) => ({ ...c, ...(told.figures?.[n] && { figures: told.figures[n] }) }));
    const chosen = told.chosen !== undefined && told.chosen < candidates.length ? told.chosen : content.chosen;
    row.content = JSON.stringify({ ...content, candidates, chosen });
    await trx('strips').where({ id }).update({ content: row.content });
    return fromRow(row);
  });
}

export async function removeStrip({ db }: Archive, itemId: string, id: string): Promise<boolean> {
  return (await db('strips').where({ id, item_id: itemId }).delete()) > 0;
}
