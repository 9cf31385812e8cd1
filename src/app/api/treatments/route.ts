import { treatmentInfos } from '../../../archive';
import { handler } from '../../http';

/** Every treatment with its settings. */
export const GET = handler(() => Promise.resolve(Response.json(treatmentInfos())));
