import type { PrintsAnswer } from '../../../../../archive';
import { makePrints } from '../../../../../render';
import { handler } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Makes an item of each print that was found on a scan of several. */
export const POST = handler<ItemContext>(async (_, context) => {
  const items = await makePrints(await itemOf(context));
  return Response.json({ items } satisfies PrintsAnswer, { status: 201 });
});
