import type { LaidAnswer } from '../../../../../archive';
import { layPicture } from '../../../../../render';
import { handler, HttpError } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Keeps a still as its plan makes it now, for steps of other items that lay it in. @returns the name it is kept under. */
export const POST = handler<ItemContext>(async (_request, context) => {
  const item = await itemOf(context);
  if (item.kind !== 'still') throw new HttpError(400, 'Only stills can be laid into another picture.');
  return Response.json({ picture: await layPicture(item) } satisfies LaidAnswer, { status: 201 });
});
