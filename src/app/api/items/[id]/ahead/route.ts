import { openAhead } from '../../../../../render';
import { handler } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Has an item ready before it is opened. */
export const POST = handler<ItemContext>(async (_request, context) => {
  const item = await itemOf(context);
  if (item.state === 'ready') await openAhead(item);
  return new Response(null, { status: 204 });
});
