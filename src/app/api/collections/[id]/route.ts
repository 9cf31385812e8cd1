import { type CollectionAnswer, archive, listItems } from '../../../../archive';
import { handler } from '../../../http';
import { collectionOf, type CollectionContext } from './collection';

export const GET = handler<CollectionContext>(async (_request, context) => {
  const collection = await collectionOf(context);
  return Response.json({ collection, items: await listItems(await archive(), collection.id) } satisfies CollectionAnswer);
});
