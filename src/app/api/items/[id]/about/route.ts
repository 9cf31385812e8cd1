import { archive, saveAbout } from '../../../../../archive';
import { AboutBody } from '../../../../aboutBody';
import { handler, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** Keeps what is told of an item; what is left out stays. */
export const PATCH = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  const body = await readBody(request, AboutBody);
  const told = Object.fromEntries(Object.entries(body).filter(([, value]) => value !== undefined));
  await saveAbout(await archive(), item.id, { ...item.about, ...told });
  return new Response(null, { status: 204 });
});
