import { archive, safeName } from '../../../../../archive';
import { contactSheet } from '../../../../../render';
import { handler, HttpError } from '../../../../http';
import { collectionOf, type CollectionContext } from '../collection';

const TYPES = { pdf: 'application/pdf', png: 'image/png' } as const;

/** The contact sheet: `as` pdf or png, `page` of a PNG from 1, `items` that are shown, separated by commas. */
export const GET = handler<CollectionContext>(async (request, context) => {
  const a = await archive();
  const collection = await collectionOf(context);
  const asked = new URL(request.url).searchParams;
  const as = asked.get('as') ?? 'pdf';
  if (as !== 'pdf' && as !== 'png') throw new HttpError(400, 'A contact sheet is made as pdf or png.');
  const page = Number(asked.get('page') ?? 1);
  if (!Number.isInteger(page) || page < 1) throw new HttpError(400, 'Pages are counted from 1.');
  const items = asked.get('items');
  const { data, pages } = await contactSheet(a, collection, as, { page: page - 1, ...(items && { only: new Set(items.split(',')) }) });
  const name = `${safeName(collection.name)} contact sheet${as === 'png' && pages > 1 ? ` ${page}` : ''}.${as}`;
  return new Response(new Uint8Array(data), {
    headers: {
      'content-type': TYPES[as],
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      'cache-control': 'no-store',
    },
  });
});
