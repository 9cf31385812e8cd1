import { type CollectionAnswer, archive, listItems, picturedItems } from '../../../../archive';
import { handler } from '../../../http';
import { collectionOf, type CollectionContext } from './collection';

export const GET = handler<CollectionContext>(async (_request, context) => {
  const collection = await collectionOf(context);
  const a = await archive();
  const items = await listItems(a, collection.id);
  return Response.json({ collection, items, pictured: picturedItems(a, items) } satisfies CollectionAnswer);
});
