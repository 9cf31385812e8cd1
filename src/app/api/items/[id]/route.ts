import {
  type Collection,
  type ItemAnswer,
  archive,
  currentPlan,
  describePlan,
  findCollection,
  picturedItems,
  planHistory,
  treatmentInfos,
} from '../../../../archive';
import { machinePace } from '../../../../render';
import { handler } from '../../../http';
import { itemOf, type ItemContext } from './item';

export const GET = handler<ItemContext>(async (_request, context) => {
  const item = await itemOf(context);
  const a = await archive();
  const plan = await currentPlan(a, item.id);
  const answer: ItemAnswer = {
    item,
    pictured: picturedItems(a, [item]).length > 0,
    collection: (await findCollection(a, item.collectionId)) as Collection,
    plan,
    history: await planHistory(a, item.id),
    description: plan && describePlan(item, plan.plan, machinePace()),
    treatments: treatmentInfos(),
  };
  return Response.json(answer);
});
