import { type CollectionAnswer, archive, findCollection, listItems } from '../../../../archive';
import { handler, HttpError } from '../../../http';

export const GET = handler<{ params: Promise<{ id: string }> }>(async (_request, { params }) => {
  const a = await archive();
  const collection = await findCollection(a, (await params).id);
  if (!collection) throw new HttpError(404, 'There is no such collection.');
  return Response.json({ collection, items: await listItems(a, collection.id) } satisfies CollectionAnswer);
});
