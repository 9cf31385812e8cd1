import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { CodedError, type GroupFace, type Grouped, type PairAnswer } from '../../core';
import { type Archive, inTransaction, now } from '../database';
import { describedAppearances } from './appearances';
import { changePeople } from './changes';

/** Somebody who appears in a collection's pictures. */
export interface Person {
  id: string;
  collectionId: string;
  /** Empty while nobody said who it is. */
  name: string;
  born: number | null;
  died: number | null;
  /** Whether somebody said anything of them. */
  told: boolean;
}

/** What cannot be told of people. */
export class PeopleError extends CodedError {
  constructor(message: string) {
    super('people', message);
  }
}

interface PersonRow {
  id: string;
  collection_id: string;
  name: string;
  born: number | null;
  died: number | null;
  told: number;
}

const fromRow = ({ id, collection_id, name, born, died, told }: PersonRow): Person => ({
  ...{ id, collectionId: collection_id, name, born, died, told: Boolean(told) },
});

export async function personsOf({ db }: Archive, collectionId: string): Promise<Person[]> {
  // Persons of one grouping are made within a millisecond: the row's own number keeps the order they were made in.
  const rows = (await db('persons').where({ collection_id: collectionId }).orderBy(['created', 'rowid'])) as PersonRow[];
  return rows.map(fromRow);
}

/** Longest age that is believed. */
const OLDEST = 120;

/** Says who a person is. @throws PeopleError where there is none of that id, or the years cannot be. */
export async function tellPerson(
  a: Archive,
  collectionId: string,
  id: string,
  told: Partial<Pick<Person, 'name' | 'born' | 'died'>>,
): Promise<void> {
  await changePeople(a, collectionId, 'what was told of a person', async (trx) => {
    const row = await personIn(trx, collectionId, id);
    const { born, died } = { ...row, ...told };
    if (born !== null && died !== null && (died < born || died > born + OLDEST))
      throw new PeopleError(`Nobody born in ${born} died in ${died}.`);
    await trx('persons')
      .where({ id })
      .update({ ...told, told: true });
    await trx('appearances').where({ person_id: id }).update({ told: true });
  });
}

export async function personIn(db: Knex, collectionId: string, id: string): Promise<PersonRow> {
  const row = (await db('persons').where({ id, collection_id: collectionId }).first()) as PersonRow | undefined;
  if (!row) throw new PeopleError('There is no such person in this collection.');
  return row;
}

/** Makes two persons one: the first takes over the other's faces, and what is not told of itself. */
export async function mergePersons(a: Archive, collectionId: string, into: string, from: string): Promise<void> {
  if (into === from) throw new PeopleError('A person cannot be put together with itself.');
  await changePeople(a, collectionId, 'two persons put together', async (trx) => {
    await mergeRows(trx, await personIn(trx, collectionId, into), await personIn(trx, collectionId, from));
  });
}

async function mergeRows(trx: Knex, into: PersonRow, from: PersonRow): Promise<void> {
  await trx('appearances').whereIn('person_id', [into.id, from.id]).update({ person_id: into.id, told: true });
  await trx('persons')
    .where({ id: into.id })
    .update({ name: into.name || from.name, born: into.born ?? from.born, died: into.died ?? from.died, told: true });
  await trx('persons').where({ id: from.id }).delete();
}

/** Makes a person of their own (`new`) of some faces, or gives them to another; without one, they are nobody's again. */
export async function moveAppearances(a: Archive, collectionId: string, ids: readonly string[], to: string | null): Promise<string | null> {
  const words = to === 'new' ? 'faces made a person of their own' : 'faces given to another person';
  return changePeople(a, collectionId, words, async (trx) => {
    const rows = await facesIn(trx, collectionId, ids);
    const former = rows.map(({ person_id }) => person_id).filter((id) => id !== null);
    const person = to === 'new' ? await newPerson(trx, collectionId, true) : to && (await personIn(trx, collectionId, to)).id;
    await trx('appearances').whereIn('id', ids).update({ person_id: person, told: true });
    // Those they were with are not the same any more.
    for (const { id, person_id } of rows) {
      if (person_id === null || person_id === person) continue;
      const rest = (await trx('appearances').where({ person_id }).whereNotIn('id', ids).pluck('id')) as string[];
      for (const other of rest) await keepAnswer(trx, id, other, 'different');
      // Who was looked through stays: what there is room for now is asked about.
      await trx('appearances').whereIn('id', rest).update({ told: true });
    }
    await dropEmpty(trx, former);
    return person;
  });
}

async function facesIn(db: Knex, collectionId: string, ids: readonly string[]): Promise<{ id: string; person_id: string | null }[]> {
  const rows = await db('appearances')
    .join('items', 'items.id', 'appearances.item_id')
    .where('items.collection_id', collectionId)
    .whereIn('appearances.id', ids)
    .select<{ id: string; person_id: string | null }[]>('appearances.id', 'appearances.person_id');
  if (rows.length !== new Set(ids).size || ids.length === 0) throw new PeopleError('A face that was named is not in this collection.');
  return rows;
}

async function newPerson(trx: Knex, collectionId: string, told: boolean): Promise<string> {
  const id = randomUUID();
  await trx('persons').insert({ id, collection_id: collectionId, told, created: now() });
  return id;
}

/** Persons without a face that nobody named go. */
const dropEmpty = (trx: Knex, ids: readonly string[]): Promise<number> =>
  trx('persons').whereIn('id', ids).whereNotIn('id', trx('appearances').whereNotNull('person_id').select('person_id')).delete();

async function keepAnswer(trx: Knex, one: string, other: string, said: PairAnswer['said']): Promise<void> {
  const [a, b] = [one, other].sort();
  await trx('likeness_answers').insert({ a, b, said }).onConflict(['a', 'b']).merge();
}

/** Says whether two faces are one person. */
export async function answerPair(a: Archive, collectionId: string, { a: one, b: other, said }: PairAnswer): Promise<void> {
  const words = { same: 'two faces said to be one person', different: 'two faces said to be two people', unsure: 'two faces left open' };
  await changePeople(a, collectionId, words[said], async (trx) => {
    const rows = await facesIn(trx, collectionId, [one, other]);
    await keepAnswer(trx, one, other, said);
    if (said !== 'same') return;
    const persons = rows.map(({ person_id }) => person_id).filter((id) => id !== null);
    if (persons.length === 2 && persons[0] !== persons[1]) {
      const [first, second] = await Promise.all(persons.map((id) => personIn(trx, collectionId, id)));
      // The one that has a name keeps being who it is.
      if (second.name && !first.name) await mergeRows(trx, second, first);
      else await mergeRows(trx, first, second);
    } else {
      const person = persons[0] ?? (await newPerson(trx, collectionId, false));
      await trx('appearances').whereIn('id', [one, other]).update({ person_id: person, told: true });
    }
  });
}

/** Takes faces out: they are none, or nobody's that matters. */
export async function dismissAppearances(a: Archive, collectionId: string, ids: readonly string[]): Promise<void> {
  await changePeople(a, collectionId, 'faces taken out', async (trx) => {
    const rows = await facesIn(trx, collectionId, ids);
    await trx('appearances').whereIn('id', ids).update({ state: 'dismissed', person_id: null });
    await dropEmpty(
      trx,
      rows.map(({ person_id }) => person_id).filter((id) => id !== null),
    );
  });
}

/** What groups are made from: the collection's faces, and what was told. */
export async function groupingInput(a: Archive, collectionId: string): Promise<{ faces: GroupFace[]; answers: PairAnswer[] }> {
  const faces = (await describedAppearances(a, collectionId)).map(
    ({ id, itemId, personId, told, grouped, pixels, yaw, along, residual, separable }) => ({
      ...{ id, picture: itemId, pixels, yaw, residual, separable, ...(along && { along }) },
      ...(grouped && { stood: personId ?? id }),
      ...(told && personId !== null && { person: personId }),
    }),
  );
  const known = new Set(faces.map(({ id }) => id));
  const answers = await a.db('likeness_answers').select<PairAnswer[]>('a', 'b', 'said');
  return { faces, answers: answers.filter((answer) => known.has(answer.a) && known.has(answer.b)) };
}

/** Least faces that make a person where nobody said anything. */
const LEAST = 2;

/** Keeps groups as persons: those that somebody told of stay, the others keep their id where most of their faces were together before. */
export async function keepGroups({ db }: Archive, collectionId: string, { groups }: Pick<Grouped, 'groups'>): Promise<void> {
  await inTransaction(db, async (trx) => {
    const rows = await trx('appearances').whereIn('id', groups.flat()).select<
      {
        id: string;
        person_id: string | null;
        told: number;
      }[]
    >('id', 'person_id', 'told');
    const was = new Map(rows.map((row) => [row.id, row]));
    const taken = new Set<string>();
    for (const group of [...groups].sort((x, y) => y.length - x.length)) {
      const told = group.find((id) => was.get(id)?.told && was.get(id)?.person_id);
      let person = told ? (was.get(told)?.person_id ?? null) : null;
      if (!person && group.length >= LEAST) person = mostOf(group, was, taken) ?? (await newPerson(trx, collectionId, false));
      if (person) taken.add(person);
      const moved = group.filter((id) => !was.get(id)?.told && was.get(id)?.person_id !== person);
      if (moved.length) await trx('appearances').whereIn('id', moved).update({ person_id: person });
    }
    await trx('appearances').whereIn('id', groups.flat()).update({ grouped: true });
    const all = (await trx('persons').where({ collection_id: collectionId, told: false }).pluck('id')) as string[];
    await dropEmpty(trx, all);
  });
}

/** The person that most of a group were before, and that no other group is. */
function mostOf(group: string[], was: Map<string, { person_id: string | null }>, taken: ReadonlySet<string>): string | undefined {
  const counts = new Map<string, number>();
  for (const id of group) {
    const person = was.get(id)?.person_id;
    if (person && !taken.has(person)) counts.set(person, (counts.get(person) ?? 0) + 1);
  }
  return [...counts].sort((x, y) => y[1] - x[1])[0]?.[0];
}
