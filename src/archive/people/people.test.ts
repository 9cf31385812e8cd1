import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { FoundAppearance } from '../../core';
import { createCollection, listCollections } from '../collections';
import { snapshotFolder, takeSnapshot } from '../guard';
import { TestArchive } from '../testing';
import { appearancesIn, appearancesOf, keepAppearances, lookedForFaces, portraitOf, wantAppearances } from './appearances';
import { lastPeopleChange, undoPeople } from './changes';
import { forgetPerson } from './forget';
import { answerPair, dismissAppearances, groupingInput, keepGroups, mergePersons, moveAppearances, personsOf, tellPerson } from './persons';

let test: TestArchive;
let collection: string;
let faces: string[];

const SECRET = 0.123456;

const found = (x: number): FoundAppearance => ({
  ...{ x, y: 0.1, width: 0.1, height: 0.2, pixels: 80, blur: 0.7, yaw: 3 },
  ...{ residual: Float32Array.of(SECRET, x), separable: Float32Array.of(x, 1), portrait: Uint8Array.of(255, 216, 77, 66, 55, 44) },
});

/** Two pictures of two people each: faces 0 and 2 are one, 1 and 3 the other. */
beforeEach(async () => {
  test = await TestArchive.open();
  collection = (await createCollection(test.archive, { name: 'Pellow Quay' })).id;
  for (const shade of [10, 20]) {
    const item = await test.itemIn(collection, shade);
    await keepAppearances(test.archive, item.id, 'key', [found(0.1), found(0.6)]);
  }
  faces = (await appearancesOf(test.archive, collection)).map(({ id }) => id);
  await keepGroups(test.archive, collection, {
    groups: [
      [faces[0], faces[2]],
      [faces[1], faces[3]],
    ],
  });
});
afterEach(() => test.close());

const persons = () => personsOf(test.archive, collection);
const personAt = async (n: number): Promise<string | null | undefined> =>
  (await appearancesOf(test.archive, collection)).find(({ id }) => id === faces[n])?.personId;

describe('the people of a collection', () => {
  it('are shown in the list of collections, each by the largest face, those first who are seen most often', async () => {
    const item = await test.itemIn(collection, 30);
    await keepAppearances(test.archive, item.id, 'key', [{ ...found(0.3), pixels: 200 }]);
    const [large] = await appearancesIn(test.archive, item.id);
    await moveAppearances(test.archive, collection, [large.id], (await personAt(1)) ?? null);
    const [{ people, faces: shown }] = await listCollections(test.archive);
    expect(people).toBe(2);
    expect(shown[0]).toBe(large.id);
    expect(shown).toHaveLength(2);
    expect([faces[0], faces[2]]).toContain(shown[1]);
  });

  it('are kept with what they are known by, for one picture of an item', async () => {
    const { faces: input } = await groupingInput(test.archive, collection);
    expect(input).toHaveLength(4);
    expect(input[0].residual[0]).toBeCloseTo(SECRET, 6);
    const [{ itemId }] = await appearancesOf(test.archive, collection);
    expect((await lookedForFaces(test.archive, collection)).get(itemId)).toBe('key');
    expect(await appearancesIn(test.archive, itemId)).toMatchObject([{ x: 0.1 }, { x: 0.6, pixels: 80, state: 'seen' }]);
    await keepAppearances(test.archive, itemId, 'other', [found(0.3)]);
    expect(await appearancesIn(test.archive, itemId)).toMatchObject([{ x: expect.closeTo(0.3, 5) as number }]);
    expect(await appearancesOf(test.archive, collection)).toHaveLength(3);
  });

  it('come in one order, by their pictures and as persons were made, though ids are random', async () => {
    vi.useFakeTimers({ toFake: ['Date'] });
    try {
      const made: (string | null)[] = [];
      for (let n = 0; n < 8; n++) made.push(await moveAppearances(test.archive, collection, [faces[n % 4]], 'new'));
      const there = (await persons()).map(({ id }) => id);
      expect(there).toEqual(made.slice(4));
      await mergePersons(test.archive, collection, there[0], there[1]);
      await undoPeople(test.archive, collection);
      expect((await persons()).map(({ id }) => id)).toEqual(there);
    } finally {
      vi.useRealTimers();
    }
    expect((await groupingInput(test.archive, collection)).faces.map(({ id }) => id)).toEqual(faces);
  });

  it('along a film are told apart by their frames, and are looked for only where that is wanted', async () => {
    const film = await test.itemIn(collection, 30);
    const along = (first: number, last: number): FoundAppearance => ({ ...found(0.4), along: { first, last, best: first + 2 } });
    await wantAppearances(test.archive, [film.id]);
    expect((await lookedForFaces(test.archive, collection)).get(film.id)).toBe('');
    await keepAppearances(test.archive, film.id, 'film', [along(0, 40), along(41, 90)]);
    const [one, other] = await appearancesIn(test.archive, film.id);
    expect([one.along, other.along]).toEqual([
      { first: 0, last: 40, best: 2 },
      { first: 41, last: 90, best: 43 },
    ]);
    expect((await groupingInput(test.archive, collection)).faces.filter((face) => face.along)).toHaveLength(2);
    // Found anew, each is who it was, by where in the film it is.
    await keepAppearances(test.archive, film.id, 'again', [along(44, 90), along(0, 38)]);
    expect((await appearancesIn(test.archive, film.id)).map(({ id }) => id).sort()).toEqual([one.id, other.id].sort());
    expect((await appearancesIn(test.archive, film.id)).find(({ id }) => id === one.id)?.along?.last).toBe(38);
    await wantAppearances(test.archive, [film.id]);
    expect((await lookedForFaces(test.archive, collection)).get(film.id)).toBe('again');
  });

  it('keep what was told of them when their pictures are looked at anew, and stay forgotten', async () => {
    const id = String(await personAt(0));
    await tellPerson(test.archive, collection, id, { name: 'Ruth' });
    const [{ itemId }] = await appearancesOf(test.archive, collection);
    await keepAppearances(test.archive, itemId, 'newer', [found(0.61), found(0.11)]);
    expect(await personAt(0)).toBe(id);
    await forgetPerson(test.archive, collection, id);
    await keepAppearances(test.archive, itemId, 'newest', [found(0.6), found(0.1)]);
    expect((await appearancesIn(test.archive, itemId)).map((face) => face.id)).toEqual([faces[1]]);
    expect((await groupingInput(test.archive, collection)).faces.map((face) => face.id)).not.toContain(faces[0]);
  });

  it('keep their ids when they are grouped anew, and go when nothing holds them', async () => {
    const first = String(await personAt(0));
    await keepGroups(test.archive, collection, { groups: [[faces[2], faces[0]], [faces[1]], [faces[3]]] });
    expect((await persons()).map(({ id }) => id)).toEqual([first]);
    expect(await personAt(2)).toBe(first);
    expect(await personAt(1)).toBeNull();
  });

  it('are named; their faces are theirs from then on', async () => {
    const id = String(await personAt(0));
    await tellPerson(test.archive, collection, id, { name: 'Ruth', born: 1922 });
    await keepGroups(test.archive, collection, { groups: [[faces[0]], [faces[1], faces[2], faces[3]]] });
    expect(await personAt(2)).toBe(id);
    expect((await groupingInput(test.archive, collection)).faces.filter(({ person }) => person === id)).toHaveLength(2);
    await expect(tellPerson(test.archive, collection, id, { died: 1900 })).rejects.toThrow('Nobody born in 1922 died in 1900.');
    await expect(tellPerson(test.archive, collection, 'nobody', { name: 'x' })).rejects.toThrow('no such person');
  });

  it('are put together and taken apart, and all of it can be taken back', async () => {
    const [first, second] = [String(await personAt(0)), String(await personAt(1))];
    await tellPerson(test.archive, collection, second, { name: 'Iris', born: 1929 });
    const state = async (): Promise<unknown> => [await persons(), await appearancesOf(test.archive, collection)];
    const before = await state();
    await mergePersons(test.archive, collection, first, second);
    expect(await persons()).toMatchObject([{ id: first, name: 'Iris', born: 1929 }]);
    const merged = await state();
    const own = await moveAppearances(test.archive, collection, [faces[3]], 'new');
    expect(await personAt(3)).toBe(own);
    // The rest is told to be somebody else.
    expect((await groupingInput(test.archive, collection)).answers.filter(({ said }) => said === 'different')).toHaveLength(3);
    expect(await lastPeopleChange(test.archive, collection)).toBe('faces made a person of their own');
    await undoPeople(test.archive, collection);
    expect(await state()).toEqual(merged);
    expect((await groupingInput(test.archive, collection)).answers).toEqual([]);
    await undoPeople(test.archive, collection);
    expect(await state()).toEqual(before);
    await expect(mergePersons(test.archive, collection, first, first)).rejects.toThrow('itself');
  });

  it('that a correction left behind stay who they are, and all know where they stood', async () => {
    const item = await test.itemIn(collection, 30);
    await keepAppearances(test.archive, item.id, 'key', [found(0.3)]);
    const [latest] = await appearancesIn(test.archive, item.id);
    const input = async () => new Map((await groupingInput(test.archive, collection)).faces.map((face) => [face.id, face]));
    const before = await input();
    expect(before.get(faces[0])?.stood).toBe(await personAt(0));
    expect(before.get(latest.id)?.stood).toBeUndefined();
    const former = await personAt(0);
    await moveAppearances(test.archive, collection, [faces[2]], 'new');
    expect((await input()).get(faces[0])).toMatchObject({ person: former, stood: former });
    // One that is like nobody stood by itself.
    await keepGroups(test.archive, collection, { groups: [[faces[0]], [faces[1], faces[3]], [faces[2]], [latest.id]] });
    expect((await input()).get(latest.id)?.stood).toBe(latest.id);
  });

  it('are asked about in pairs', async () => {
    const [first, second] = [String(await personAt(0)), String(await personAt(1))];
    await tellPerson(test.archive, collection, second, { name: 'Iris' });
    await answerPair(test.archive, collection, { a: faces[0], b: faces[3], said: 'unsure' });
    expect(await persons()).toHaveLength(2);
    await answerPair(test.archive, collection, { a: faces[3], b: faces[0], said: 'same' });
    // The one that is named stays.
    expect(await persons()).toMatchObject([{ id: second, name: 'Iris' }]);
    expect(await personAt(0)).toBe(second);
    expect((await groupingInput(test.archive, collection)).answers).toMatchObject([{ said: 'same' }]);
    await undoPeople(test.archive, collection);
    expect((await persons()).map(({ id }) => id).sort()).toEqual([first, second].sort());
  });

  it('lose faces that are taken out', async () => {
    await dismissAppearances(test.archive, collection, [faces[0], faces[2]]);
    expect(await appearancesOf(test.archive, collection)).toHaveLength(2);
    expect(await persons()).toHaveLength(1);
    await undoPeople(test.archive, collection);
    expect(await appearancesOf(test.archive, collection)).toHaveLength(4);
    await expect(dismissAppearances(test.archive, collection, ['nobody'])).rejects.toThrow('not in this collection');
  });

  it('are forgotten everywhere', async () => {
    const id = String(await personAt(0));
    await tellPerson(test.archive, collection, id, { name: 'Somebody Secret' });
    await takeSnapshot(test.archive, '2026-01-01');
    await forgetPerson(test.archive, collection, id);
    expect(await persons()).not.toContainEqual(expect.objectContaining({ id }));
    expect((await portraitOf(test.archive, faces[0]))?.length).toBe(0);
    expect((await groupingInput(test.archive, collection)).faces.map((face) => face.id).sort()).toEqual([faces[1], faces[3]].sort());
    expect(await undoPeople(test.archive, collection)).toBeUndefined();
    const folder = snapshotFolder(test.archive.paths);
    const files = [
      test.archive.paths.database,
      `${test.archive.paths.database}-wal`,
      ...readdirSync(folder).map((name) => path.join(folder, name)),
    ];
    expect(files).toHaveLength(3);
    for (const file of files) expect(readFileSync(file).includes('Somebody Secret')).toBe(false);
  });
});
