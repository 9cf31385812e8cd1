import { layFace, layPicture } from '../../../../../render';
import { handler, HttpError } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Keeps a still as its plan makes it now, or one `face` of it, for steps of other items that lay it in. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  if (item.kind !== 'still') throw new HttpError(400, 'Only stills can be laid into another picture.');
  const asked = new URL(request.url).searchParams.get('face');
  const face = Number(asked);
  if (asked !== null && !(Number.isInteger(face) && face >= 0)) throw new HttpError(400, 'Faces are counted from 0.');
  return Response.json(asked === null ? await layPicture(item) : await layFace(item, face), { status: 201 });
});
