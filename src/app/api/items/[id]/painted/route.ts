import type { PaintedAnswer } from '../../../../../archive';
import { PaintBody } from '../../../../bodies';
import { handler, readBody } from '../../../../http';
import { paintItem } from '../../../../../render';
import { itemOf, type ItemContext } from '../item';

/** Paints strokes on a mask of the item. @returns the new document's name; the former one stays as it is. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  const { base, strokes } = await readBody(request, PaintBody);
  return Response.json({ document: await paintItem(item, base, strokes) } satisfies PaintedAnswer, { status: 201 });
});
