import { randomUUID } from 'node:crypto';
import { PlanError, proposePlan } from '../core';
import { mapSteps } from '../shared/plan';
import { inTransaction, now, type Archive } from './database';
import { insertItem, listItems, measuredStream } from './items';
import { savePlanIn } from './plans';
import type { Item } from './types';

/**
 * Makes an item of each print that was found on a scan of several. The scan stays an item of its own; each new one has a plan that begins with
 * the print's corners.
 *
 * @throws PlanError where there are not several, or their items are there already.
 */
export async function itemsOfPrints(a: Archive, item: Item): Promise<Item[]> {
  const papers = item.condition?.measurements.papers ?? [];
  if (item.facts.part?.print) throw new PlanError('This item is one print of a scan already.');
  if (papers.length < 2 || !item.condition) throw new PlanError('There are not several prints on this scan.');
  const { condition } = item;
  const made = papers.map((corners, n) => ({
    corners,
    item: {
      ...item,
      id: randomUUID(),
      name: `${item.name}, print ${n + 1}`,
      facts: { ...item.facts, part: { ...item.facts.part, print: { number: n, corners } } },
      created: now(),
    } satisfies Item,
  }));
  const others = await listItems(a, item.collectionId);
  if (others.some((other) => other.source.id === item.source.id && other.facts.part?.print))
    throw new PlanError('The prints on this scan are items already.');
  await inTransaction(a.db, async (trx) => {
    for (const { corners, item: print } of made) {
      await insertItem(trx, print);
      const report = { ...condition, measurements: { ...condition.measurements, papers: [corners] } };
      const proposed = proposePlan(report, measuredStream(print));
      const plan = mapSteps(proposed, (step) => (step.treatment === 'perspective' ? { ...step, on: true } : step));
      await savePlanIn(trx, print.id, plan, `one of ${papers.length} prints on ${item.name}`);
    }
  });
  return made.map(({ item: print }) => print);
}
