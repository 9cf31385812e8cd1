import { archive, listTemplates, saveTemplate } from '../../../archive';
import { handler, HttpError } from '../../http';

export const dynamic = 'force-dynamic';

/** A template's JSON may be so long. */
const MAX_LENGTH = 200_000;

export const GET = handler(async () => Response.json(await listTemplates(await archive())));

/** Takes in a template as it was handed out. */
export const POST = handler(async (request) => {
  const text = await request.text();
  if (text.length > MAX_LENGTH) throw new HttpError(413, 'That is too long for a template.');
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch {
    throw new HttpError(400, 'The file holds no JSON.');
  }
  return Response.json(await saveTemplate(await archive(), given), { status: 201 });
});
