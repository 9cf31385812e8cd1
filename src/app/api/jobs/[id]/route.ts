import { archive, cancelJob, moveJob, pauseJob, resumeJob, retryJob } from '../../../../archive';
import { JobActionBody } from '../../../jobBodies';
import { handler, HttpError, readBody } from '../../../http';

/** Cancels a job; what it had made goes, what was delivered stays. */
export const DELETE = handler<{ params: Promise<{ id: string }> }>(async (_request, { params }) => {
  if (!(await cancelJob(await archive(), (await params).id))) throw new HttpError(409, 'The job has ended already.');
  return new Response(null, { status: 204 });
});

const ACTIONS = { pause: pauseJob, resume: resumeJob, retry: retryJob };
const CANNOT = {
  pause: 'The job has ended, or is paused already.',
  resume: 'The job is not paused.',
  retry: 'Only a job that failed or was cancelled is run again.',
  move: 'The job has ended.',
};

/** Pauses a job, lets it go on, runs it again, or gives it another place. */
export const PATCH = handler<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
  const { action, to } = await readBody(request, JobActionBody);
  const a = await archive(),
    { id } = await params;
  if (action === 'move' && to === undefined) throw new HttpError(400, 'Name the place to move to.');
  const done = action === 'move' ? await moveJob(a, id, to as number) : await ACTIONS[action](a, id);
  if (!done) throw new HttpError(409, CANNOT[action]);
  return new Response(null, { status: 204 });
});
