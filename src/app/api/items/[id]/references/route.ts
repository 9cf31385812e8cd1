import { chooseReferences, referenceInfos } from '../../../../../render';
import { ReferencesBody } from '../../../../bodies';
import { handler, HttpError, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Most pictures that are asked after at once. */
const MOST = 200;

/** What is known of the pictures that faces are restored by: `of` names them, parted by commas. */
export const GET = handler<ItemContext>(async (request, context) => {
  await itemOf(context);
  const names = (new URL(request.url).searchParams.get('of') ?? '').split(',').filter(Boolean);
  if (names.length > MOST) throw new HttpError(400, `At most ${MOST} pictures are asked after at once.`);
  return Response.json(await referenceInfos(names), { headers: { 'cache-control': 'private, max-age=31536000, immutable' } });
});

/** Chooses the pictures of the collection that serve best to restore a face. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  return Response.json(await chooseReferences(item, await readBody(request, ReferencesBody)), { status: 201 });
});
