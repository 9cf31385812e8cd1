import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { CollectionAnswer } from '../src/archive/answers';
import type { Collection, Item } from '../src/archive/types';
import { accessible, expect, test } from './fixtures';
import { makeMixedFolder } from './media';
import { TestServer } from './server';

let folder = '';
const at = (name: string): string => path.join(folder, name);

test.beforeAll(async () => {
  folder = mkdtempSync(path.join(tmpdir(), 'wairetic-files-'));
  await makeMixedFolder(folder);
});
test.afterAll(() => rmSync(folder, { recursive: true }));

test('what is being examined is shown at once where there is a thumbnail, and counted beside the queue', async ({ page, server }) => {
  const collection = await server.api<Collection>('collections', { name: 'On its way' });
  await page.goto(`${server.url}/collections/${collection.id}`);
  await page.getByTestId('choose-files').setInputFiles([at('print.jpg'), at('scan.png')]);
  await expect(page.locator('[data-testid=item][data-state=ready]')).toHaveCount(2);
  // As it was a moment before: neither examined, one with its thumbnail.
  await page.route(`**/api/collections/${collection.id}`, async (route) => {
    const answer = (await (await route.fetch()).json()) as CollectionAnswer;
    const items = answer.items.map((item) => ({ ...item, state: 'examining' as const, condition: null }));
    await route.fulfill({ json: { ...answer, items, pictured: [items[0].id] } });
  });
  await page.route('**/api/examining', async (route) => {
    await route.fulfill({ json: ['print', 'scan'].map((name) => ({ id: name, name, collectionName: 'On its way' })) });
  });
  await page.reload();
  const [first, second] = [page.getByTestId('item').nth(0), page.getByTestId('item').nth(1)];
  await expect(first.locator('img')).toHaveJSProperty('complete', true);
  await expect(first).toContainText('being examined');
  await expect(second.locator('img')).toHaveCount(0);
  await expect(second).toContainText('waits to be examined');
  await page.getByRole('link', { name: 'examining 2' }).click();
  await expect(page.getByText('2 items are being examined')).toBeVisible();
});

test('a collection is made, files are chosen, good ones come in and bad ones are named with the reason', async ({ page, server }) => {
  await page.goto(server.url);
  await page.getByRole('button', { name: 'New collection' }).first().click();
  await page.getByLabel('Name').fill('Marrow family');
  await page.getByRole('button', { name: /^Make|^Create|^Add/ }).click();
  await expect(page.getByText('Nothing taken in yet.')).toBeVisible();

  const names = [
    'print.jpg',
    'scan.png',
    'deep.tif',
    'old.bmp',
    'within/web picture.webp',
    'clip.mkv',
    'phone.mp4',
    'empty.jpg',
    'letter.txt',
    'cut off.png',
    'twin.jpg',
    'huge.png',
  ];
  await page.getByTestId('choose-files').setInputFiles(names.map(at));
  const intake = page.getByRole('region', { name: 'Intake' });
  await expect(intake).toContainText('8 of 12 taken in, 4 not');
  const row = (name: string) => intake.getByRole('listitem').filter({ hasText: name });
  await expect(row('empty.jpg')).toContainText('empty');
  await expect(row('letter.txt')).toContainText('no picture and no video');
  await expect(row('twin.jpg')).toContainText('already');
  await expect(row('huge.png')).toContainText('megapixels');
  await expect(page.getByTestId('item')).toHaveCount(8);
  await expect(page.locator('[data-testid=item][data-state=ready]')).toHaveCount(8);
  await accessible(page);

  // What was cut off is kept, since it may be all there is, and said to be damaged.
  await expect(page.getByTestId('item').filter({ hasText: 'cut off' })).toContainText('damaged: the picture is cut off');
  // What was put away is byte for byte what was sent, under its checksum.
  const collection = (await server.api<Collection[]>('collections')).find((c) => c.name === 'Marrow family') as Collection;
  const { items } = await server.api<{ items: Item[] }>(`collections/${collection.id}`);
  for (const item of items) {
    const stored = readFileSync(path.join(server.home, 'sources', item.source.path));
    expect(createHash('sha256').update(stored).digest('hex')).toBe(item.source.sha256);
  }
  const deep = items.find((i) => i.name === 'deep');
  expect(deep?.facts.stream.depth).toBe(16);
  expect(items.find((i) => i.name === 'clip')?.facts.tracks.map((t) => t.language)).toEqual(['eng', 'fre']);
  expect(readdirSync(path.join(server.home, 'uploads'))).toEqual([]);

  // The list of collections shows what is in it, each picture its item.
  await page.goto(server.url);
  const shown = page.getByRole('list', { name: 'Some items of Marrow family' });
  await expect(shown.getByRole('listitem')).toHaveCount(8);
  await accessible(page);
  await shown.getByRole('link', { name: 'scan', exact: true }).click();
  await page.waitForURL(new RegExp(`/items/${items.find((i) => i.name === 'scan')?.id}`));
});

test('an archive without collections says what to do', async ({ page }) => {
  const empty = new TestServer();
  await empty.start();
  try {
    for (const [place, words] of [
      ['', 'No collection yet.'],
      ['queue', 'Nothing in the queue.'],
      ['deliveries', 'Nothing delivered yet.'],
    ]) {
      await page.goto(`${empty.url}/${place}`);
      await expect(page.getByText(words)).toBeVisible();
      await accessible(page);
    }
  } finally {
    await empty.stop();
  }
});

test('files dropped onto a collection come in', async ({ page, server }) => {
  const { id } = await server.api<Collection>('collections', { name: 'Dropped' });
  await page.goto(`${server.url}/collections/${id}`);
  await page.getByTestId('drop-input').setInputFiles([at('print.jpg'), at('phone.mp4')]);
  await expect(page.locator('[data-testid=item][data-state=ready]')).toHaveCount(2);
});

test('a folder is chosen with the folders within', async ({ page, server }) => {
  const { id } = await server.api<Collection>('collections', { name: 'Folder' });
  await page.goto(`${server.url}/collections/${id}`);
  await page.getByTestId('choose-folder').setInputFiles(folder);
  await expect(page.getByRole('region', { name: 'Intake' })).toContainText('8 of 12 taken in, 4 not');
  await expect(page.getByText('web picture', { exact: true })).toBeVisible();
});

test('a folder of the machine is taken in without the browser', async ({ page, server }) => {
  const { id } = await server.api<Collection>('collections', { name: 'From the machine' });
  await page.goto(`${server.url}/collections/${id}`);
  await page.getByRole('button', { name: 'From this machine…' }).click();
  await page.getByLabel('Folder or file').fill('/no/such/folder');
  await page.getByRole('button', { name: 'Take in', exact: true }).click();
  await expect(page.getByRole('alert').filter({ hasText: '/no/such/folder' })).toBeVisible();
  await page.getByLabel('Folder or file').fill(folder);
  await page.getByRole('button', { name: 'Take in', exact: true }).click();
  await expect(page.locator('[data-testid=item][data-state=ready]')).toHaveCount(8);
  await expect(page.getByRole('region', { name: 'Intake' })).toContainText('8 of 12 taken in, 4 not');
  // The folder is as it was.
  expect(readdirSync(folder).length).toBeGreaterThan(10);
});

test('an upload that breaks off goes on where it stopped', async ({ page, server }) => {
  const { id } = await server.api<Collection>('collections', { name: 'Broken line' });
  const metadata = { filename: 'clip.mkv', collection: id };
  const file = readFileSync(at('clip.mkv'));
  const encoded = Object.entries(metadata)
    .map(([k, v]) => `${k} ${Buffer.from(v).toString('base64')}`)
    .join(',');
  const tus = { 'tus-resumable': '1.0.0' };
  const made = await server.fetch('/api/uploads', {
    method: 'POST',
    headers: { ...tus, 'upload-length': String(file.length), 'upload-metadata': encoded },
  });
  expect(made.status).toBe(201);
  const location = new URL(made.headers.get('location') as string, `${server.url}/api/uploads`).href;
  const half = file.length >> 1;
  const send = (from: number, to: number) =>
    server.fetch(location, {
      method: 'PATCH',
      headers: { ...tus, 'content-type': 'application/offset+octet-stream', 'upload-offset': String(from) },
      body: file.subarray(from, to),
    });
  expect((await send(0, half)).status).toBe(204);
  const head = await server.fetch(location, { method: 'HEAD', headers: tus });
  expect(Number(head.headers.get('upload-offset'))).toBe(half);
  expect((await send(half, file.length)).status).toBe(204);
  await page.goto(`${server.url}/collections/${id}`);
  await expect(page.locator('[data-testid=item][data-state=ready]')).toHaveCount(1);
});

test('requests from elsewhere change nothing', async ({ server }) => {
  const answer = await server.fetch('/api/collections', {
    method: 'POST',
    headers: { origin: 'http://elsewhere.example', 'content-type': 'application/json' },
    body: '{"name":"x"}',
  });
  expect(answer.status).toBe(403);
  const wrong = await server.fetch('/api/collections', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: '{"name":""}',
  });
  expect(wrong.status).toBe(400);
  expect(await wrong.json()).toEqual({ error: 'A collection needs a name.' });
});
