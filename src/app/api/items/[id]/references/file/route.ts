import { referenceFromFile } from '../../../../../../render';
import { handler } from '../../../../../http';
import { itemOf, type ItemContext } from '../../item';

/** Keeps the largest face of a picture from outside, to restore faces by. The body is the file, `name` what it is called. */
export const POST = handler<ItemContext>(async (request, context) => {
  await itemOf(context);
  const name = new URL(request.url).searchParams.get('name')?.slice(0, 200) ?? '';
  return Response.json(await referenceFromFile(request.body, name || 'a file'), { status: 201 });
});
