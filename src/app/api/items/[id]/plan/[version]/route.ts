import { archive, nameVersion } from '../../../../../../archive';
import { VersionNameBody } from '../../../../../bodies';
import { handler, HttpError, readBody } from '../../../../../http';
import { itemOf } from '../../item';

/** Names a version of the plan. */
export const PATCH = handler<{ params: Promise<{ id: string; version: string }> }>(async (request, context) => {
  const item = await itemOf(context);
  const { name } = await readBody(request, VersionNameBody);
  const version = Number((await context.params).version);
  if (!(await nameVersion(await archive(), item.id, version, name.trim()))) throw new HttpError(404, `The plan has no version ${version}.`);
  return new Response(null, { status: 204 });
});
