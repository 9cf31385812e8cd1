import { archive, findItem, type Item } from '../../../../archive';
import { HttpError } from '../../../http';

export interface ItemContext {
  params: Promise<{ id: string }>;
}

/** The item a route names. */
export async function itemOf({ params }: ItemContext): Promise<Item> {
  const item = await findItem(await archive(), (await params).id);
  if (!item) throw new HttpError(404, 'There is no such item.');
  return item;
}
