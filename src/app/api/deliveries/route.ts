import { archive, listDeliveries } from '../../../archive';
import { handler } from '../../http';

export const dynamic = 'force-dynamic';

export const GET = handler(async () => Response.json(await listDeliveries(await archive())));
