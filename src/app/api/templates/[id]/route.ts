import { archive, findTemplate, removeTemplate } from '../../../../archive';
import { handler, HttpError } from '../../../http';

interface TemplateContext {
  params: Promise<{ id: string }>;
}

/** The template as a file. */
export const GET = handler<TemplateContext>(async (_request, context) => {
  const found = await findTemplate(await archive(), (await context.params).id);
  if (!found) throw new HttpError(404, 'There is no such template.');
  const name = `${found.template.name.replace(/[^\p{L}\p{N} ._-]+/gu, ' ').trim()}.json`;
  return new Response(`${JSON.stringify(found.template, null, 1)}\n`, {
    headers: {
      'content-type': 'application/json',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
    },
  });
});

export const DELETE = handler<TemplateContext>(async (_request, context) => {
  if (!(await removeTemplate(await archive(), (await context.params).id)))
    throw new HttpError(404, 'There is no such template of your own.');
  return new Response(null, { status: 204 });
});
