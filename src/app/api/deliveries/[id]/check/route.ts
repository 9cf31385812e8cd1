import { archive, checkDelivery } from '../../../../../archive';
import { handler, HttpError } from '../../../../http';

/** Holds a delivery's files against their checksums. */
export const POST = handler<{ params: Promise<{ id: string }> }>(async (_request, { params }) => {
  const result = await checkDelivery(await archive(), (await params).id);
  if (!result) throw new HttpError(404, 'There is no such delivery.');
  return Response.json(result);
});
