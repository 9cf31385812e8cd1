import { measuredStream } from '../../../../../archive';
import { readPlan } from '../../../../../core';
import { predictSize } from '../../../../../render';
import { SizeBody } from '../../../../jobBodies';
import { handler, HttpError, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** What the access copy of a still will take. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  if (item.kind !== 'still') throw new HttpError(400, 'Sizes are told of stills.');
  const { plan, ...format } = await readBody(request, SizeBody);
  return Response.json(await predictSize(item, readPlan(plan, measuredStream(item)), format, request.signal));
});
