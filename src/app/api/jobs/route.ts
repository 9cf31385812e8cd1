import { archive, listJobs } from '../../../archive';
import { DEFAULT_JOB_OPTIONS } from '../../../shared/jobs';
import { startJob } from '../../../render';
import { JobBody } from '../../jobBodies';
import { handler, readBody } from '../../http';

export const dynamic = 'force-dynamic';

export const GET = handler(async () => Response.json(await listJobs(await archive())));

export const POST = handler(async (request) => {
  const { itemId, ...options } = await readBody(request, JobBody);
  const given = Object.fromEntries(Object.entries(options).filter(([, v]) => v !== undefined));
  return Response.json(await startJob(await archive(), itemId, { ...DEFAULT_JOB_OPTIONS, ...given }), { status: 201 });
});
