import { archive, tellPerson } from '../../../../../../archive';
import { peopleChanged, peopleOf } from '../../../../../../render';
import { handler, readBody } from '../../../../../http';
import { PersonBody } from '../../../../../peopleBodies';
import { collectionOf } from '../../collection';

/** Says who a person is; what is left out stays. @returns how the collection's people are then. */
export const PATCH = handler<{ params: Promise<{ id: string; person: string }> }>(async (request, context) => {
  const collection = await collectionOf(context);
  const body = await readBody(request, PersonBody);
  const told = Object.fromEntries(Object.entries(body).filter(([, value]) => value !== undefined)) as PersonBody;
  await tellPerson(await archive(), collection.id, (await context.params).person, {
    ...told,
    ...(told.name && { name: told.name.trim() }),
  });
  peopleChanged(collection.id);
  return Response.json(await peopleOf(collection));
});
