import { itemFaces } from '../../../../../render';
import { handler } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** The item's faces as far as they are found; asking begins it. */
export const GET = handler<ItemContext>(async (_request, context) => {
  return Response.json(await itemFaces(await itemOf(context)));
});
