import path from 'node:path';
import { spawnSync } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { exiftoolPath } from 'exiftool-vendored';
import sharp from 'sharp';
import type { Delivery, InPictureAnswer, Item, PeopleAnswer, ReferenceInfo, ReferencesAnswer } from '../src/archive';
import type { JobRequest } from '../src/shared/requests';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import { ffmpeg } from './media';
import { ROOT, type TestServer } from './server';

const ALBUM = ['Album leaf, 1928.jpg', 'Album leaf, 1937.jpg', 'Edwin and Lilian, 1921.tif'];

const peopleOf = (server: TestServer, id: string): Promise<PeopleAnswer> => server.api<PeopleAnswer>(`collections/${id}/people`);

/** A collection whose people were all looked for. */
async function album(server: TestServer, name = 'The Marrows', leaves = ALBUM): Promise<{ id: string; items: Item[] }> {
  const { id, items } = await collectionWith(server, name, ...leaves.map((leaf) => demoMedia(leaf)));
  for (const item of items) await server.api(`items/${item.id}/about`, { date: /\d{4}/.exec(item.name)?.[0] }, 'PATCH');
  await expect.poll(async () => (await peopleOf(server, id)).share, { timeout: 120_000 }).toBe(1);
  return { id, items };
}

test('people of a collection are found, named, asked about, parted and taken back', async ({ page, server }) => {
  const { id, items } = await album(server);
  await page.goto(`${server.url}/people`);
  const { persons: known } = await peopleOf(server, id);
  const listed = page.getByRole('listitem').filter({ has: page.getByRole('link', { name: 'The Marrows', exact: true }) });
  await expect(listed).toContainText(`${known.length} people in 3 items`);
  await expect(listed.locator('img')).toHaveCount(Math.min(10, known.length));
  await accessible(page);
  await page.goto(`${server.url}/people/${id}`);
  const persons = page.getByRole('navigation', { name: 'Persons' });
  await expect(persons.getByRole('button').first()).toContainText(/Not named/);
  await accessible(page);

  // Edwin, who is on all three, as Lilian is: he is on the right of the print of 1921.
  const print = items.find(({ name }) => name.startsWith('Edwin')) as Item;
  const right = (await server.api<InPictureAnswer[]>(`items/${print.id}/people`)).at(-1);
  const edwin = known
    .toSorted((a, b) => b.faces.length - a.faces.length)
    .findIndex(({ faces }) => faces.length === 3 && faces.some(({ id: face }) => face === right?.face));
  expect(edwin).toBeGreaterThanOrEqual(0);
  await persons.getByRole('button', { name: `Not named, ${edwin + 1} 3 pictures`, exact: true }).click();
  await page.getByLabel('Name', { exact: true }).fill('Edwin Marrow');
  await page.getByLabel('Born').fill('1895');
  await page.getByLabel('Died').fill('1890');
  await page.getByLabel('Died').press('Enter');
  await expect(page.getByText('Nobody born in 1895 died in 1890.')).toBeVisible();
  await expect(page.getByLabel('Died')).toHaveValue('');
  await expect(page.getByTestId('face')).toHaveCount(3);
  await expect(page.getByTestId('face').first()).toContainText(/aged 26 · 2[23]\d px/);
  await expect(page.getByText(/^best of 25 to 34|^best reference/).first()).toBeVisible();

  // Parted, and taken back.
  await page.getByTestId('face').last().getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Somebody else' }).click();
  await expect(page.getByTestId('face')).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('face')).toHaveCount(3);

  // Two persons made one, and taken back.
  const before = (await peopleOf(server, id)).persons.length;
  await page.getByRole('button', { name: 'Is the same as…' }).click();
  await page.getByRole('menuitem').first().click();
  await expect.poll(async () => (await peopleOf(server, id)).persons.length).toBe(before - 1);
  await page.getByRole('button', { name: /^Take back/ }).click();
  await expect.poll(async () => (await peopleOf(server, id)).persons.length).toBe(before);
});

test('unsure pairs are answered by keys', async ({ page, server }) => {
  // Half a century apart, nobody is surely one of those they look like.
  const { id } = await album(server, 'The Marrows, grown old', ['Album leaf, 1928.jpg', 'Album leaf, 1983.jpg']);
  const asked = (await peopleOf(server, id)).questions.length;
  expect(asked).toBeGreaterThan(0);
  await page.goto(`${server.url}/people/${id}`);
  await page.getByRole('button', { name: /unsure$/ }).click();
  await expect(page.getByText(`${asked} to go`)).toBeVisible();
  await accessible(page);
  await page.keyboard.press('u');
  await expect.poll(async () => (await peopleOf(server, id)).questions.length).toBe(asked - 1);
  await page.keyboard.press('Control+z');
  // Keys answer the pair in view, so it has to be in view again.
  await expect(page.getByText(`${asked} to go`)).toBeVisible();
  await page.keyboard.press('n');
  await expect.poll(async () => (await peopleOf(server, id)).questions.length).toBeLessThan(asked);
});

test('names go into what is handed over with their places where that is wanted; a person is forgotten', async ({ page, server }) => {
  const { id, items } = await album(server, 'The Marrows, named');
  const person = (await peopleOf(server, id)).persons.find(({ faces }) => faces.length === 3);
  await server.api(`collections/${id}/people/${person?.id}`, { name: 'Edwin Marrow' }, 'PATCH');
  const leaf = items.find(({ name }) => name.includes('1928')) as Item;
  await page.goto(`${server.url}/items/${leaf.id}`);
  await settled(page);
  await page.getByRole('tab', { name: 'About' }).click();
  await page.getByRole('button', { name: 'Write these names' }).click();
  await expect(page.getByLabel('People', { exact: true })).toHaveValue('Edwin Marrow');

  const regions = async (namePlaces: boolean): Promise<Record<string, unknown>> => {
    const job = { itemId: leaf.id, original: false, access: false, namePlaces } satisfies JobRequest;
    await server.api('jobs', job);
    const ofLeaf = async (): Promise<Delivery[]> => (await server.api<Delivery[]>('deliveries')).filter(({ itemId }) => itemId === leaf.id);
    await expect.poll(async () => (await ofLeaf()).length, { timeout: 120_000 }).toBe(namePlaces ? 2 : 1);
    const made = await ofLeaf();
    const newest = made.sort((a, b) => (a.created < b.created ? 1 : -1))[0];
    const folder = path.join(server.home, 'deliveries', newest.folder);
    const file = readdirSync(folder).find((name) => name.endsWith('.tif')) as string;
    const { stdout } = spawnSync('perl', [await exiftoolPath(), '-j', '-XMP-mwg-rs:all', path.join(folder, file)]);
    return (JSON.parse(stdout.toString()) as Record<string, unknown>[])[0];
  };
  expect(await regions(false)).not.toHaveProperty('RegionName');
  const told = await regions(true);
  expect(told).toMatchObject({ RegionName: 'Edwin Marrow', RegionType: 'Face' });
  const found = (await server.api<InPictureAnswer[]>(`items/${leaf.id}/people`)).find(({ name }) => name === 'Edwin Marrow');
  expect(Number(told.RegionAreaX)).toBeCloseTo(Number(found?.x) + Number(found?.width) / 2, 2);

  const listed = spawnSync(process.execPath, [path.join(ROOT, 'bin/wairetic'), 'people', 'The Marrows, named'], {
    env: { ...process.env, WAIRETIC_HOME: server.home },
  });
  expect(listed.stdout.toString()).toContain('Edwin Marrow: 3 pictures');

  await page.goto(`${server.url}/people/${id}`);
  await page.getByRole('button', { name: /Edwin Marrow/ }).click();
  await page.getByRole('button', { name: 'Forget…' }).click();
  await page.getByRole('button', { name: 'Forget this person' }).click();
  await expect(page.getByRole('button', { name: /Edwin Marrow/ })).toHaveCount(0);
  const left = await peopleOf(server, id);
  expect(left.undo).toBeUndefined();
  const faces = [...left.persons.flatMap((one) => one.faces), ...left.single];
  expect(faces.some((face) => person?.faces.some((gone) => gone.id === face.id))).toBe(false);
});

test('what cannot be said of people is refused in words', async ({ server }) => {
  const { id } = await server.api<{ id: string }>('collections', { name: 'Nobody' });
  const answer = async (body: object): Promise<[number, string]> => {
    const response = await server.fetch(`/api/collections/${id}/people`, { method: 'POST', body: JSON.stringify(body) });
    return [response.status, ((await response.json()) as { error: string }).error];
  };
  const nobody = crypto.randomUUID();
  expect(await answer({ action: 'undo' })).toEqual([409, 'There is nothing to take back.']);
  expect(await answer({ action: 'forget', person: nobody })).toEqual([422, 'There is no such person in this collection.']);
  expect(await answer({ action: 'dismiss', faces: [nobody] })).toEqual([422, 'A face that was named is not in this collection.']);
  expect((await answer({ action: 'dance' }))[0]).toBe(400);
  expect((await answer({ action: 'merge', into: 'somebody', from: nobody }))[0]).toBe(400);
  expect((await answer({ action: 'answer', a: nobody, b: nobody, said: 'perhaps' }))[0]).toBe(400);
});

test('the faces of a film are followed where that is wanted, and are known again', async ({ page, server }, info) => {
  const clip = info.outputPath('A walk past.mkv');
  const couple = path.join(ROOT, 'demo/plates/couple.png');
  // Two shots of the same two people, the second one nearer.
  const shot = (size: number, x: number): string => `scale=${size}:-2,crop=320:240:x='${x}+n':y=${Math.round(size / 12)}`;
  const shots = `[0:v]${shot(480, 20)},trim=end_frame=16[a];[1:v]${shot(560, 60)},trim=end_frame=16,hue=b=0.6[b];[a][b]concat,format=yuv420p`;
  ffmpeg('-loop', '1', '-i', couple, '-loop', '1', '-i', couple, '-filter_complex', shots, '-frames:v', '32', '-c:v', 'ffv1', clip);
  const still = info.outputPath('On the bench.jpg');
  await sharp(couple).resize(280).jpeg().toFile(still);
  const { id, items } = await collectionWith(server, 'Films and people', clip, still);
  const [film, photograph] = ['A walk past', 'On the bench'].map((name) => items.find((item) => item.name === name)?.id);
  await page.goto(`${server.url}/people/${id}`);
  await expect(page.getByText('1 film is not looked through')).toBeVisible();
  await accessible(page);
  await page.getByRole('button', { name: 'Look through it' }).click();
  await expect.poll(async () => (await peopleOf(server, id)).share, { timeout: 120_000 }).toBe(1);
  const { persons, single, films } = await peopleOf(server, id);
  expect(films).toBe(0);
  const faces = [...persons.flatMap((person) => person.faces), ...single].filter(({ itemId }) => itemId === film);
  expect(faces.length).toBeGreaterThanOrEqual(2);
  for (const face of faces) expect(face.along?.last).toBeLessThan(32);
  await expect(page.getByTestId('face').filter({ hasText: 'A walk past' }).first()).toContainText(/frames \d+–\d+/);
  const found = await server.api<InPictureAnswer[]>(`items/${film}/people`);
  expect(found).toHaveLength(faces.length);

  // Their best frames restore a smaller still of the same people.
  const names = await Promise.all(
    (await server.api<InPictureAnswer[]>(`items/${photograph}/people`)).map(async ({ x, y, width, height }) => {
      const at = { x: x + width / 2, y: y + height / 2 };
      const { pictures } = await server.api<ReferencesAnswer>(`items/${photograph}/references`, at, 'POST');
      return (await server.api<ReferenceInfo[]>(`items/${photograph}/references?of=${pictures.join(',')}`)).map(({ name }) => name);
    }),
  );
  expect(names.flat()).toContainEqual(expect.stringMatching(/^A walk past, frame \d+$/));
});
