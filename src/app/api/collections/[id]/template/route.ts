import { applyTemplate, archive, findTemplate, listItems, previewTemplate } from '../../../../../archive';
import { ApplyTemplateBody } from '../../../../bodies';
import { handler, HttpError, readBody } from '../../../../http';

/** Applies a template to items of a collection, or says what that would change. */
export const POST = handler<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const body = await readBody(request, ApplyTemplateBody);
  const a = await archive();
  const found = await findTemplate(a, body.template);
  if (!found) throw new HttpError(404, 'There is no such template.');
  const wanted = new Set(body.items);
  const items = (await listItems(a, (await context.params).id)).filter((i) => wanted.has(i.id));
  if (body.preview) return Response.json(await previewTemplate(a, found.template, items));
  return Response.json({ applied: await applyTemplate(a, found.template, items) });
});
