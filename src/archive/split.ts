import { randomUUID } from 'node:crypto';
import { PlanError } from '../core';
import { framesOf, partName, type Probed } from '../media';
import { allSteps, mapForks, mapSteps, type Plan, type Span } from '../shared/plan';
import { inTransaction, now, type Archive } from './database';
import { insertItem, keepFrameTimes, probedItem, updateItem } from './items';
import { currentPlan, savePlanIn } from './plans';
import { UNFINISHED_STATES, type Item } from './types';

/**
 * Splits an item in two at a frame. The first half keeps the item's name, plans and deliveries, whose frames count from the same start; the
 * second becomes an item of its own, with a copy of the plan whose stretches of time were moved along. Both are examined anew; the source
 * stays untouched.
 *
 * @param frame of the item's source: the first of the second half.
 * @throws PlanError where there is nothing to split, or a job of the item is going.
 */
export async function splitItem(a: Archive, item: Item, frame: number): Promise<{ first: Item; second: Item }> {
  const { frames } = item.facts.stream;
  if (item.kind !== 'moving') throw new PlanError('A still has no frames to be split between.');
  if (!Number.isInteger(frame) || frame < 1 || frame >= frames)
    throw new PlanError(`It can be split before any frame from 1 to ${frames - 1}.`);
  const whole = (await probedItem(a, item)) as Required<Probed>;
  const halves = [framesOf(whole, 0, frame - 1), framesOf(whole, frame, frames - 1)];
  const title = item.name.replace(/, frames \d+ to \d+$/, '');
  const [first, second] = halves.map(({ facts }, n): Item => ({
    ...item,
    id: n ? randomUUID() : item.id,
    name: `${title}, ${partName({ frames: facts.part?.frames })}`,
    facts,
    condition: n ? null : item.condition,
    state: 'examining',
    message: '',
    created: n ? now() : item.created,
  }));
  const present = await currentPlan(a, item.id);
  for (const [n, half] of [first, second].entries()) await keepFrameTimes(a, half, halves[n].index);
  await inTransaction(a.db, async (trx) => {
    if (await trx('jobs').where({ item_id: item.id }).whereIn('state', UNFINISHED_STATES).first('id'))
      throw new PlanError('A job of this item is in the queue: let it end, or cancel it, before the item is split.');
    await updateItem(trx, first);
    await insertItem(trx, second);
    if (present) await savePlanIn(trx, second.id, movedPlan(present.plan, frame), `split off ${item.name}`);
  });
  return { first, second };
}

/** The plan with stretches of time that begin `by` frames earlier; what lay before is left out, and trims are switched off: their frames are gone. */
function movedPlan(plan: Plan, by: number): Plan {
  const moved = (span: Span | undefined): { span?: Span; gone?: true } => {
    if (!span) return {};
    return span.last < by ? { gone: true } : { span: { first: Math.max(0, span.first - by), last: span.last - by } };
  };
  const trims = new Set(
    allSteps(plan)
      .filter((s) => s.treatment === 'trim')
      .map((s) => s.id),
  );
  const steps = mapSteps(plan, ({ span, ...step }) => {
    const { gone, ...own } = moved(span);
    return { ...step, ...own, ...((gone || trims.has(step.id)) && { on: false }) };
  });
  return mapForks(steps, (fork) => ({
    ...fork,
    branches: fork.branches.map(({ span, ...branch }) => {
      const { gone, ...own } = moved(span);
      return { ...branch, ...own, ...(gone && { on: false }) };
    }),
  }));
}
