import { archive, currentPlan, saveTemplate } from '../../../../../archive';
import { templateOf } from '../../../../../core';
import { ItemTemplateBody } from '../../../../bodies';
import { handler, HttpError, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Keeps the item's present plan as a template. */
export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  const { name, about, fixed } = await readBody(request, ItemTemplateBody);
  const a = await archive();
  const present = await currentPlan(a, item.id);
  if (!present) throw new HttpError(409, 'The item has no plan yet.');
  return Response.json(await saveTemplate(a, templateOf(present.plan, name, about, fixed)), { status: 201 });
});
