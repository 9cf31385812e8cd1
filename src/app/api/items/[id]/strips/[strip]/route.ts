import { archive, removeStrip, updateStrip } from '../../../../../../archive';
import { StripUpdateBody } from '../../../../../bodies';
import { handler, HttpError, readBody } from '../../../../../http';
import { itemOf } from '../../item';

interface StripContext {
  params: Promise<{ id: string; strip: string }>;
}

export const PATCH = handler<StripContext>(async (request, context) => {
  const item = await itemOf(context);
  const strip = await updateStrip(await archive(), item.id, (await context.params).strip, await readBody(request, StripUpdateBody));
  if (!strip) throw new HttpError(404, 'There is no such test strip.');
  return Response.json(strip);
});

export const DELETE = handler<StripContext>(async (_request, context) => {
  const item = await itemOf(context);
  if (!(await removeStrip(await archive(), item.id, (await context.params).strip)))
    throw new HttpError(404, 'There is no such test strip.');
  return new Response(null, { status: 204 });
});
