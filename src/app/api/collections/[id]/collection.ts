import { archive, type Collection, findCollection } from '../../../../archive';
import { HttpError } from '../../../http';

export interface CollectionContext {
  params: Promise<{ id: string }>;
}

/** The collection a route names. */
export async function collectionOf({ params }: CollectionContext): Promise<Collection> {
  const collection = await findCollection(await archive(), (await params).id);
  if (!collection) throw new HttpError(404, 'There is no such collection.');
  return collection;
}
