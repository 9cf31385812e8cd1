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
} from '../archive';
import { ageSpan, type Grouped, referenceWorth } from '../core';
import { toldDate } from '../shared/about';
import { analysed } from './analyse';
import { runTask, threadPool } from './pool';
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

/** Stills whose faces were not looked for, and how many stills there are. */
async function unlooked(a: Archive, collectionId: string): Promise<{ left: Item[]; all: number }> {
  const stills = (await listItems(a, collectionId)).filter(({ kind, state }) => kind === 'still' && state === 'ready');
  const keys = await lookedForFaces(a, collectionId);
  return { left: stills.filter((item) => keys.get(item.id) !== lookedAt(item)), all: stills.length };
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
  const file = itemAnalysisFile(a, item, appearancesAnalysis, measuredStream(item));
  const found = await analysed({
    analysis: appearancesAnalysis,
    file,
    stream: measuredStream(item),
    describe: async () => ({ source: await sourceRef(a, item) }),
  });
  await keepAppearances(a, item.id, lookedAt(item), found);
  peopleChanged(item.collectionId);
  // Who is described is kept in one place, from which it can be taken away.
  await rm(file, { force: true });
}

/** Looks for the people of all stills that were not looked at, one after another. What cannot be read is told, and does not hold up the rest. */
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

/** The people of a collection as far as they are known; asking has the stills that were not looked at looked at. */
export async function peopleOf(collection: Collection): Promise<PeopleAnswer> {
  const a = await archive();
  const { id } = collection;
  const { left, all } = await unlooked(a, id);
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
    worth: Math.round(1000 * referenceWorth({ pixels: face.pixels, yaw: face.yaw, ...(face.blur !== null && { blur: face.blur }) })) / 1000,
  };
}

/** Who is in an item's picture, from the left; looked for first where it was not. */
export async function peopleIn(item: Item): Promise<InPictureAnswer[]> {
  const a = await archive();
  if (item.kind !== 'still') return [];
  await lookFor(a, item);
  await regrouped(a, item.collectionId);
  const names = new Map((await personsOf(a, item.collectionId)).map(({ id, name }) => [id, name]));
  return (await appearancesIn(a, item.id)).map(({ id, personId, x, y, width, height }) => {
    const name = personId === null ? '' : names.get(personId);
    return { face: id, ...{ x, y, width, height }, ...(name && { name }) };
  });
}
