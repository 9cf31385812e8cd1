import { itemFaces } from '../../../../../render';
import { handler, HttpError } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** The item's faces as far as they are found; asking begins it. */
export const GET = handler<ItemContext>(async (_request, context) => {
  const item = await itemOf(context);
  if (item.kind !== 'still') throw new HttpError(404, 'Faces are found in stills.');
  return Response.json(await itemFaces(item));
});
