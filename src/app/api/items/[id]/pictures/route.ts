import { layOutside } from '../../../../../render';
import { handler } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Keeps a picture from outside, for steps of this item that lay it in. The body is the file. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  return Response.json(await layOutside(item, request.body), { status: 201 });
});
