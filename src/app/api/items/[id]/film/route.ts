import { archive, sourcePath } from '../../../../../archive';
import { sourceFilm } from '../../../../../media';
import { handler, HttpError } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** The source with its sound, to be watched at its own speed; `from` says where it begins, in seconds. */
export const GET = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  if (item.kind !== 'moving') throw new HttpError(422, 'A still does not play.');
  const from = Number(new URL(request.url).searchParams.get('from') ?? 0);
  if (!(from >= 0 && from <= item.facts.duration)) throw new HttpError(422, 'It does not last that long.');
  const film = sourceFilm(sourcePath(await archive(), item), item.facts, from, request.signal);
  return new Response(film, { headers: { 'content-type': 'video/mp4', 'cache-control': 'no-store' } });
});
