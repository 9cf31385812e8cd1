import { type PlanAnswer, archive, describePlan, measuredStream, planHistory, savePlan } from '../../../../../archive';
import { readPlan } from '../../../../../core';
import { PlanBody } from '../../../../bodies';
import { machinePace } from '../../../../../render';
import { handler, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

export const GET = handler<ItemContext>(async (_request, context) =>
  Response.json(await planHistory(await archive(), (await itemOf(context)).id)),
);

export const PUT = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  const body = await readBody(request, PlanBody);
  const plan = readPlan(body.plan, measuredStream(item));
  const saved = await savePlan(await archive(), item.id, plan, body.change);
  return Response.json({ plan: saved, description: describePlan(item, saved.plan, machinePace()) } satisfies PlanAnswer);
});
