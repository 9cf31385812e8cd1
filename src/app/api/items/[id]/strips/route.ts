import { archive, listStrips, measuredStream, readStrip, saveStrip, type StripContent } from '../../../../../archive';
import { StripBody } from '../../../../bodies';
import { handler, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

export const GET = handler<ItemContext>(async (_request, context) =>
  Response.json(await listStrips(await archive(), (await itemOf(context)).id)),
);

export const POST = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  const body = await readBody(request, StripBody);
  return Response.json(await saveStrip(await archive(), item.id, readStrip(body as unknown as StripContent, measuredStream(item))), {
    status: 201,
  });
});
