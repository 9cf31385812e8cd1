import { archive, findByName } from '../../../archive';
import { handler } from '../../http';

export const dynamic = 'force-dynamic';

/** Items of all collections whose name holds the words of `q`. */
export const GET = handler(async (request) => {
  const words = new URL(request.url).searchParams.get('q') ?? '';
  return Response.json(await findByName(await archive(), words.slice(0, 200)));
});
