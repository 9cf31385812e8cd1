import { archive } from '../../../archive/database';
import { listDeliveries } from '../../../archive/deliveries';
import { handler } from '../../http';

export const dynamic = 'force-dynamic';

export const GET = handler(async () => Response.json(await listDeliveries(await archive())));
