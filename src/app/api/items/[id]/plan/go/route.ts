import { type PlanAnswer, archive, describePlan, goToVersion } from '../../../../../../archive';
import { machinePace } from '../../../../../../render';
import { VersionBody } from '../../../../../bodies';
import { handler, HttpError, readBody } from '../../../../../http';
import { itemOf, type ItemContext } from '../../item';

/** Makes another version of the plan the present one: undo, redo and going back. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  const { version } = await readBody(request, VersionBody);
  const plan = await goToVersion(await archive(), item.id, version);
  if (!plan) throw new HttpError(404, `The plan has no version ${version}.`);
  return Response.json({ plan, description: describePlan(item, plan.plan, machinePace()) } satisfies PlanAnswer);
});
