import { safeName } from '../../../../../archive';
import { cropOut } from '../../../../../render';
import { handler, HttpError } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** A part of a still as its plan makes it now, as PNG: `x`, `y`, `width`, `height` in fractions of the result, and `name` of it. */
export const GET = handler<ItemContext>(async (request, context) => {
  const item = await itemOf(context);
  if (item.kind !== 'still') throw new HttpError(400, 'Single crops are taken of stills.');
  const asked = new URL(request.url).searchParams;
  const [x, y, width, height] = ['x', 'y', 'width', 'height'].map((key) => Number(asked.get(key) ?? NaN));
  const inside =
    [x, y, width, height].every((v) => v >= 0 && v <= 1) && width > 0 && height > 0 && x + width <= 1.000001 && y + height <= 1.000001;
  if (!inside) throw new HttpError(400, 'A part lies within the picture, in fractions of it.');
  const name = safeName(`${item.name.replace(/\.[^.]+$/, '')} ${asked.get('name') ?? 'part'}.png`);
  return new Response(new Uint8Array(await cropOut(item, { x, y, width, height })), {
    headers: {
      'content-type': 'image/png',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      'cache-control': 'no-store',
    },
  });
});
