import { type AlikeAnswer } from '../../../../../archive';
import { alikeElsewhere } from '../../../../../render';
import { handler, HttpError } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Where other shots of a film show what a mark of a list is on. */
export const GET = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  if (item.kind === 'still') throw new HttpError(404, 'A still has no other shots.');
  const { searchParams } = new URL(request.url);
  const places = await alikeElsewhere(item, searchParams.get('list') ?? '', searchParams.get('mark') ?? '');
  return Response.json({ places: places ?? [], measured: places !== undefined } satisfies AlikeAnswer);
});
