import { rm } from 'node:fs/promises';
import type { Piscina } from 'piscina';
import {
  type Appearance,
  type AppearanceAnswer,
  type Archive,
  appearancesAnalysis,
  appearancesIn,
  appearancesOf,
  archive,
  type Collection,
  filmFacesAnalysis,
  groupingInput,
  type InPictureAnswer,
  type Item,
  itemAnalysisFile,
  keepAppearances,
  keepGroups,
  lastPeopleChange,
  listItems,
  lookedForFaces,
  measuredStream,
  type PeopleAnswer,
  type Person,
  type PersonAnswer,
  personsOf,
  pictureKey,
  wantAppearances,
} from '../archive';
import { ageSpan, type Grouped, referenceWorth } from '../core';
import { toldDate } from '../shared/about';
import { analysed } from './analyse';
import { runTask, threadPool } from './pool';
import type { SourceRef } from './segment';
import { sourceRef } from './sourceRef';

/** What this process knows of a collection's people beside what is kept. */
interface Known {
  /** What is worth asking, as long as nothing changed, and how often something did. */
  questions?: Grouped['questions'];
  changes: number;
  /** Looks at the stills that were not looked at. */
  looking?: Promise<void>;
  /** What went wrong with items, by their ids. */
  problems: Map<string, string>;
}

declare global {
  var waireticPeople: Map<string, Known> | undefined;
  var waireticLooks: Map<string, Promise<void>> | undefined;
  var waireticPeopleThread: Piscina | undefined;
}

function knownOf(collectionId: string): Known {
  globalThis.waireticPeople ??= new Map();
  const known = globalThis.waireticPeople.get(collectionId) ?? { problems: new Map<string, string>(), changes: 0 };
  globalThis.waireticPeople.set(collectionId, known);
  return known;
}

/** Says that something changed by which faces are put together. */
export function peopleChanged(collectionId: string): void {
  const known = knownOf(collectionId);
  known.questions = undefined;
  known.changes++;
}

/** The key of what an item's faces are looked for in. */
const lookedAt = (item: Item): string => `${pictureKey(item)} ${appearancesAnalysis.version}`;

interface ToLook {
  /** Items whose faces are to be looked for, and were not. */
  left: Item[];
  /** How many items are to be looked at. */
  all: number;
  /** Films that nobody wants looked through. */
  films: Item[];
}

/** Stills are looked at, films where somebody wants it: that takes about as long as they last. */
async function unlooked(a: Archive, collectionId: string): Promise<ToLook> {
  const items = (await listItems(a, collectionId)).filter(({ state }) => state === 'ready');
  const keys = await lookedForFaces(a, collectionId);
  const films = items.filter(({ id, kind }) => kind === 'moving' && (keys.get(id) ?? null) === null);
  const wanted = items.filter((item) => !films.includes(item));
  return { left: wanted.filter((item) => keys.get(item.id) !== lookedAt(item)), all: wanted.length, films };
}

/** Has the films of a collection looked through too, from now on. */
export async function wantFilms(a: Archive, collectionId: string): Promise<void> {
  const { films } = await unlooked(a, collectionId);
  await wantAppearances(
    a,
    films.map(({ id }) => id),
  );
}

/** Looks for the faces of an item, unless that is done; whoever asks while it is under way waits for the same. */
function lookFor(a: Archive, item: Item): Promise<void> {
  globalThis.waireticLooks ??= new Map();
  const looks = globalThis.waireticLooks;
  const under = looks.get(item.id) ?? look(a, item).finally(() => looks.delete(item.id));
  looks.set(item.id, under);
  return under;
}

async function look(a: Archive, item: Item): Promise<void> {
  if ((await lookedForFaces(a, item.collectionId)).get(item.id) === lookedAt(item)) return;
  const stream = measuredStream(item);
  const describe = async (): Promise<{ source: SourceRef }> => ({ source: await sourceRef(a, item) });
  // The faces of a film are followed first.
  const followed = itemAnalysisFile(a, item, filmFacesAnalysis, stream);
  if (item.kind === 'moving') await analysed({ analysis: filmFacesAnalysis, file: followed, stream, describe });
  const file = itemAnalysisFile(a, item, appearancesAnalysis, stream);
  const found = await analysed({ analysis: appearancesAnalysis, file, stream, describe });
  await keepAppearances(a, item.id, lookedAt(item), found);
  peopleChanged(item.collectionId);
  // Who is described is kept in one place, from which it can be taken away.
  await rm(file, { force: true });
}

/** Looks for the people of all items that are to be looked at and were not, one after another. What cannot be read is told, and does not hold up the rest. */
export async function lookForPeople(a: Archive, collectionId: string): Promise<void> {
  const known = knownOf(collectionId);
  known.looking ??= (async () => {
    for (const item of (await unlooked(a, collectionId)).left) {
      if (known.problems.has(item.id)) continue;
      await lookFor(a, item).catch((error: Error) => known.problems.set(item.id, `${item.name}: ${error.message}`));
    }
  })().finally(() => (known.looking = undefined));
  await known.looking;
}

/** Puts faces together by person, and keeps it. @returns what is worth asking. */
async function regrouped(a: Archive, collectionId: string): Promise<Grouped['questions']> {
  const known = knownOf(collectionId);
  if (known.questions) return known.questions;
  const { changes } = known;
  const input = await groupingInput(a, collectionId);
  globalThis.waireticPeopleThread ??= threadPool('people-thread', 1);
  const { groups, questions } = await runTask<Grouped>(globalThis.waireticPeopleThread, input);
  await keepGroups(a, collectionId, { groups });
  if (known.changes === changes) known.questions = questions;
  return questions;
}

/** The people of a collection as far as they are known; asking has what was not looked at looked at. */
export async function peopleOf(collection: Collection): Promise<PeopleAnswer> {
  const a = await archive();
  const { id } = collection;
  const { left, all, films } = await unlooked(a, id);
  const { problems } = knownOf(id);
  const open = left.filter((item) => !problems.has(item.id));
  if (open.length) void lookForPeople(a, id);
  const questions = await regrouped(a, id);
  const items = new Map((await listItems(a, id)).map((item) => [item.id, item]));
  const faces = await appearancesOf(a, id);
  const undo = await lastPeopleChange(a, id);
  return {
    collection,
    persons: (await personsOf(a, id)).map((person) => personAnswer(person, faces, items)),
    single: faces.filter(({ personId }) => personId === null).map((face) => appearanceAnswer(face, items)),
    questions: questions.map(({ a: one, b }) => ({ a: one, b })),
    share: all ? 1 - open.length / all : 1,
    films: films.length,
    ...(undo !== undefined && { undo }),
    ...(problems.size > 0 && { problem: [...problems.values()].join('; ') }),
  };
}

function personAnswer(person: Person, all: readonly Appearance[], items: ReadonlyMap<string, Item>): PersonAnswer {
  const faces = all
    .filter(({ personId }) => personId === person.id)
    .map((face) => appearanceAnswer(face, items, person.born))
    .sort((x, y) => (x.year ?? Infinity) - (y.year ?? Infinity));
  const best = new Map<string, { span?: [number, number]; face: AppearanceAnswer }>();
  for (const face of faces) {
    const span = face.age === undefined ? undefined : ageSpan(face.age);
    const key = String(span);
    if ((best.get(key)?.face.worth ?? -1) < face.worth) best.set(key, { ...(span && { span }), face });
  }
  // Where ages are known, a face of an unknown one stands for none of them.
  if (best.size > 1) best.delete(String(undefined));
  return { ...person, faces, references: [...best.values()].map(({ span, face }) => ({ ...(span && { span }), face: face.id })) };
}

function appearanceAnswer(face: Appearance, items: ReadonlyMap<string, Item>, born: number | null = null): AppearanceAnswer {
  const item = items.get(face.itemId);
  const year = item && toldDate(item.about.date)?.year;
  const age = year !== undefined && born !== null ? Number(year) - born : undefined;
  return {
    ...{ id: face.id, itemId: face.itemId, itemName: item?.name ?? '', pixels: face.pixels },
    ...(year !== undefined && { year: Number(year) }),
    ...(age !== undefined && age >= 0 && { age }),
    ...(face.along && { along: face.along }),
    worth: Math.round(1000 * referenceWorth({ pixels: face.pixels, yaw: face.yaw, ...(face.blur !== null && { blur: face.blur }) })) / 1000,
  };
}

/** Who is in an item's picture, from the left; of a still looked for first where it was not, of a film as far as it was looked through. */
export async function peopleIn(item: Item): Promise<InPictureAnswer[]> {
  const a = await archive();
  if (item.kind === 'still') await lookFor(a, item);
  await regrouped(a, item.collectionId);
  const names = new Map((await personsOf(a, item.collectionId)).map(({ id, name }) => [id, name]));
  return (await appearancesIn(a, item.id)).map(({ id, personId, x, y, width, height }) => {
    const name = personId === null ? '' : names.get(personId);
    return { face: id, ...{ x, y, width, height }, ...(name && { name }) };
  });
}
