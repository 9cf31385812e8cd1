import { readFile } from 'node:fs/promises';
import { archive, thumbnailPath } from '../../../../../archive';
import { handler, HttpError } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

export const GET = handler<ItemContext>(async (_request, context) => {
  const item = await itemOf(context);
  const data = await readFile(thumbnailPath(await archive(), item)).catch(() => undefined);
  if (!data) throw new HttpError(404, 'There is no thumbnail yet.');
  return new Response(new Uint8Array(data), { headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=3600' } });
});
