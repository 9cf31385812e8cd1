import { archive, underExamination, type ExaminedAnswer } from '../../../archive';
import { handler } from '../../http';

export const dynamic = 'force-dynamic';

/** Items that are being examined, in all collections. */
export const GET = handler(async () => Response.json((await underExamination(await archive())) satisfies ExaminedAnswer[]));
