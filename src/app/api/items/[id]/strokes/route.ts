import { archive, changeStrokes, readStrokes, type StrokesAnswer, type StrokesChangedAnswer } from '../../../../../archive';
import { StrokesBody } from '../../../../bodies';
import { handler, readBody } from '../../../../http';
import { itemOf, type ItemContext } from '../item';

/** The strokes of a list that one of the item's steps holds. */
export const GET = handler<ItemContext>(async (request, context) => {
  await itemOf(context);
  const list = new URL(request.url).searchParams.get('list') ?? '';
  const strokes = await readStrokes((await archive()).paths.marks, list);
  return Response.json({ strokes } satisfies StrokesAnswer, { headers: { 'cache-control': 'private, max-age=31536000, immutable' } });
});

/** Adds, changes and removes strokes. @returns the name of the changed list; the former one stays as it is. */
export const POST = handler<ItemContext>(async (request, context) => {
  await itemOf(context);
  const { base, set, remove } = await readBody(request, StrokesBody);
  const list = await changeStrokes((await archive()).paths.marks, base, { set, remove });
  return Response.json({ list } satisfies StrokesChangedAnswer, { status: 201 });
});
