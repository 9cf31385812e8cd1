import { type NamesAnswer, archive, type Collection, currentPlan, findCollection } from '../../../../../archive';
import { DEFAULT_JOB_OPTIONS, handsOver } from '../../../../../shared/jobs';
import { monochromePlan } from '../../../../../core';
import { patternProblem, previewNames } from '../../../../../render';
import { JobOptionsBody } from '../../../../jobBodies';
import { handler, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** The names a delivery's files would have. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  const body = await readBody(request, JobOptionsBody);
  const given = Object.fromEntries(Object.entries(body).filter(([, v]) => v !== undefined));
  const options = { ...DEFAULT_JOB_OPTIONS, ...given };
  const problem = patternProblem(options.pattern) ?? (handsOver(options) ? undefined : 'Nothing is chosen to hand over.');
  const a = await archive();
  const collection = (await findCollection(a, item.collectionId)) as Collection;
  const present = await currentPlan(a, item.id);
  const coloured = present !== undefined && monochromePlan(present.plan) !== undefined;
  const answer: NamesAnswer = {
    names: problem ? [] : previewNames(item, collection, options, new Date().toISOString().slice(0, 10), coloured),
    problem,
  };
  return Response.json(answer);
});
