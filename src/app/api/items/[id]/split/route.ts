import { archive, splitItem, type SplitAnswer } from '../../../../../archive';
import { examineLater } from '../../../../../render';
import { SplitBody } from '../../../../bodies';
import { handler, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Makes two items of one, before and from a frame. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  const { frame } = await readBody(request, SplitBody);
  const halves = await splitItem(await archive(), item, frame);
  for (const { id } of [halves.first, halves.second]) examineLater(id);
  return Response.json(halves satisfies SplitAnswer, { status: 201 });
});
