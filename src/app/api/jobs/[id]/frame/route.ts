import { archive, findJob } from '../../../../../archive';
import { jobFrame } from '../../../../../render';
import { handler, HttpError } from '../../../../http';

/** A finished frame of a job as it runs, or the source's at the same moment: `?frame=N&side=made|source`. */
export const GET = handler<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
  const { searchParams } = new URL(request.url);
  const frame = Number(searchParams.get('frame')),
    side = searchParams.get('side');
  if (!Number.isInteger(frame) || frame < 0 || (side !== 'made' && side !== 'source'))
    throw new HttpError(400, 'Name a frame, and the side: made or source.');
  const a = await archive();
  const job = await findJob(a, (await params).id);
  if (!job) throw new HttpError(404, 'There is no such job.');
  const picture = await jobFrame(a, job, frame, side);
  if (!picture) throw new HttpError(404, 'This frame is not made yet.');
  return new Response(new Uint8Array(picture), { headers: { 'content-type': 'image/jpeg', 'cache-control': 'no-store' } });
});
