import { archive } from '../../../../archive/database';
import { cancelJob } from '../../../../archive/jobs';
import { handler, HttpError } from '../../../http';

/** Cancels a job; what it had made goes, what was delivered stays. */
export const DELETE = handler<{ params: Promise<{ id: string }> }>(async (_request, { params }) => {
  if (!(await cancelJob(await archive(), (await params).id))) throw new HttpError(409, 'The job has ended already.');
  return new Response(null, { status: 204 });
});
