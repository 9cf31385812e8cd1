import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { exiftoolPath } from 'exiftool-vendored';
import sharp from 'sharp';
import type { Delivery, JobProgress } from '../src/archive/types';
import { ROOT } from './server';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';

test('what is told of a picture, its size, its print and its sheet go from the bench into what is handed over', async ({
  page,
  server,
}) => {
  const { items } = await collectionWith(server, 'Handed over', demoMedia('Portrait of a child.tif'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await page.getByRole('tab', { name: 'About' }).click();
  for (const [name, text] of [
    ['Title', 'Ruth, Ναύπλιο'],
    ['People', 'Ruth Marsh\n山田花子'],
    ['Date', 'about 1921'],
    ['Place', 'Nafplio'],
    ['Rights', '© Marsh family'],
  ]) {
    await page.getByLabel(name, { exact: true }).fill(text);
    await page.getByLabel(name, { exact: true }).blur();
  }
  await expect(page.getByText('Written in words, and as the year 1921.')).toBeVisible();
  await accessible(page);
  await page.reload();
  await settled(page);
  await page.getByRole('tab', { name: 'About' }).click();
  await expect(page.getByLabel('Title', { exact: true })).toHaveValue('Ruth, Ναύπλιο');

  await page.getByRole('button', { name: 'Add to queue' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add to the queue' });
  await dialog.getByRole('checkbox', { name: 'Stays under' }).check();
  await dialog.getByLabel('Kilobytes the access copy stays under').fill('120');
  await expect(dialog.getByRole('status')).toContainText(/Access copy: (about )?\d+.*at quality \d+\./, { timeout: 60_000 });
  await dialog.getByRole('checkbox', { name: /^Sheet of before and after/ }).check();
  await dialog.getByRole('checkbox', { name: 'Print on paper, PDF' }).check();
  await expect(dialog).toContainText(/\d+ px\/in at 30\.5 × 40\.6 cm: /);
  await dialog.getByLabel('Usual sizes').selectOption('10 × 15 cm');
  await dialog.getByRole('combobox', { name: 'Picture' }).selectOption('fill');
  await dialog.getByLabel('Bleed').fill('3');
  await dialog.getByRole('combobox', { name: 'Paper' }).selectOption('9 × 13 cm');
  await expect(dialog.getByRole('alert')).toContainText('does not fit on 9 × 13 cm');
  await dialog.getByRole('combobox', { name: 'Paper' }).selectOption('A5');
  await accessible(page);
  await dialog.getByRole('button', { name: 'Add to queue' }).click();

  const state = async (): Promise<string | undefined> => (await server.api<JobProgress[]>('jobs')).find((j) => j.itemId === id)?.state;
  await expect.poll(state, { timeout: 180_000 }).toBe('done');
  const delivery = (await server.api<Delivery[]>('deliveries')).find((d) => d.itemId === id) as Delivery;
  const file = (kind: string, ending: string): string => {
    const found = delivery.files.find((f) => f.kind === kind && f.fileName.endsWith(ending));
    return path.join(server.home, 'deliveries', delivery.folder, found?.fileName ?? 'missing');
  };
  expect(delivery.files.find((f) => f.kind === 'access')?.bytes).toBeLessThan(120_000);
  expect(delivery.files.find((f) => f.kind === 'print')?.note).toContain('10.2 × 15.2 cm and 3 mm of bleed on A5');
  for (const name of [file('sheet', '.pdf'), file('print', '.pdf')]) expect(readFileSync(name).subarray(0, 5).toString()).toBe('%PDF-');
  expect(await sharp(file('sheet', '.png')).metadata()).toMatchObject({ width: 2339, height: 1654, density: 200 });
  const exiftool = await exiftoolPath();
  for (const name of [file('master', '.tif'), file('access', '.jpg')]) {
    const [tags] = JSON.parse(execFileSync(exiftool, ['-j', '-G1', name]).toString()) as Record<string, unknown>[];
    expect(tags).toMatchObject({
      'XMP-dc:Title': 'Ruth, Ναύπλιο',
      'XMP-iptcExt:PersonInImage': ['Ruth Marsh', '山田花子'],
      'XMP-dc:Coverage': 'about 1921',
      'XMP-iptcCore:Location': 'Nafplio',
      'IFD0:Copyright': '© Marsh family',
    });
    expect(tags['XMP-photoshop:History']).toMatch(/^Grain: |^Dirt: |^[A-Z][a-z]+: /);
  }
  expect(await sharp(file('master', '.tif')).metadata()).toMatchObject({ depth: 'ushort' });

  // The client's sheet of the whole collection.
  await page.goto(`${server.url}/collections/${items[0].collectionId}`);
  await page.getByRole('button', { name: 'Contact sheet' }).click();
  await accessible(page);
  const [pdf] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: /^PDF/ }).click()]);
  expect(pdf.suggestedFilename()).toBe('Handed over contact sheet.pdf');
  const png = await page.request.get(`${server.url}/api/collections/${items[0].collectionId}/sheet?as=png`);
  expect(await sharp(await png.body()).metadata()).toMatchObject({ width: 1654, height: 2339 });
  expect((await page.request.get(`${server.url}/api/collections/${items[0].collectionId}/sheet?as=gif`)).status()).toBe(400);
  const written = path.join(server.home, 'sheet.png');
  const sheet = (out: string): string =>
    execFileSync(path.join(ROOT, 'bin/wairetic'), ['sheet', 'Handed over', '--out', out], {
      env: { ...process.env, WAIRETIC_HOME: server.home, WAIRETIC_ROOT: ROOT },
    }).toString();
  expect(sheet(written)).toContain('page 1 of 1');
  expect(await sharp(written).metadata()).toMatchObject({ width: 1654 });
  expect(() => sheet(written)).toThrow(/exists already/);
});
