import { archive, queueSettings, setQueue } from '../../../archive';
import { QueueBody } from '../../jobBodies';
import { handler, readBody } from '../../http';

export const dynamic = 'force-dynamic';

/** When and with how much the queue works. */
export const GET = handler(async () => Response.json(await queueSettings(await archive())));

export const PATCH = handler(async (request) => {
  const body = await readBody(request, QueueBody);
  const change = Object.fromEntries(Object.entries(body).filter(([, value]) => value !== undefined));
  return Response.json(await setQueue(await archive(), change));
});
