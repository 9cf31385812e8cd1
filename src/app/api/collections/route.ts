import { archive, createCollection, listCollections } from '../../../archive';
import { CollectionBody } from '../../bodies';
import { handler, readBody } from '../../http';

export const dynamic = 'force-dynamic';

export const GET = handler(async () => Response.json(await listCollections(await archive())));

export const POST = handler(async (request) => {
  const body = await readBody(request, CollectionBody);
  return Response.json(await createCollection(await archive(), body), { status: 201 });
});
