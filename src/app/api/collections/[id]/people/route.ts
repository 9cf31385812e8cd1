import {
  answerPair,
  archive,
  dismissAppearances,
  forgetPerson,
  mergePersons,
  moveAppearances,
  type Archive,
  undoPeople,
} from '../../../../../archive';
import { peopleChanged, peopleOf, wantFilms } from '../../../../../render';
import { handler, HttpError, readBody } from '../../../../http';
import { PeopleBody } from '../../../../peopleBodies';
import { collectionOf, type CollectionContext } from '../collection';

/** The people of a collection as far as they are known; asking looks for them. */
export const GET = handler<CollectionContext>(async (_request, context) => Response.json(await peopleOf(await collectionOf(context))));

/** Keeps what is said of people. @returns how they are then. */
export const POST = handler<CollectionContext>(async (request, context) => {
  const collection = await collectionOf(context);
  await said(await archive(), collection.id, await readBody(request, PeopleBody));
  peopleChanged(collection.id);
  return Response.json(await peopleOf(collection));
});

async function said(a: Archive, id: string, body: PeopleBody): Promise<void> {
  switch (body.action) {
    case 'merge':
      return mergePersons(a, id, body.into, body.from);
    case 'move':
      return void (await moveAppearances(a, id, body.faces, body.to));
    case 'dismiss':
      return dismissAppearances(a, id, body.faces);
    case 'answer':
      return answerPair(a, id, body);
    case 'forget':
      return forgetPerson(a, id, body.person);
    case 'films':
      return wantFilms(a, id);
    case 'undo':
      if ((await undoPeople(a, id)) === undefined) throw new HttpError(409, 'There is nothing to take back.');
  }
}
