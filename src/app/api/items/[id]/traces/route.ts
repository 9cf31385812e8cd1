import { itemTraces } from '../../../../../render';
import { handler, HttpError } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** The item's traces as far as they are measured; asking begins it. */
export const GET = handler<ItemContext>(async (_request, context) => {
  const item = await itemOf(context);
  if (item.kind === 'still') throw new HttpError(404, 'A still has no running time.');
  return Response.json(await itemTraces(item));
});
