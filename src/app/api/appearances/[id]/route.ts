import { archive, portraitOf } from '../../../../archive';
import { handler, HttpError } from '../../../http';

/** A face cut out of its picture, as JPEG. */
export const GET = handler<{ params: Promise<{ id: string }> }>(async (_request, { params }) => {
  const portrait = await portraitOf(await archive(), (await params).id);
  if (!portrait?.length) throw new HttpError(404, 'There is no such face.');
  return new Response(new Uint8Array(portrait), { headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=600' } });
});
