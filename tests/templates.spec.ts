import { readFile } from 'node:fs/promises';
import type { PlainPlan } from '../src/shared/plan';
import type { KeptTemplate } from '../src/archive/types';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { ItemAnswer } from '../src/archive';

test('a plan is kept as a template, applied to many after a look at what changes, handed out and taken in', async ({ page, server }) => {
  const { id, items } = await collectionWith(
    server,
    'Templates',
    demoMedia('Portrait of a child.tif'),
    demoMedia('Slide 14, the harbour.jpg'),
    demoMedia('Harbour, web clip.mp4'),
  );
  const [print] = items;
  await page.goto(`${server.url}/items/${print.id}`);
  await settled(page);
  const grain = page.getByTestId('step-grain');
  await grain.getByRole('button', { name: /^Grain/ }).click();
  await grain.getByLabel('Keep', { exact: true }).fill('45');
  await grain.getByLabel('Keep', { exact: true }).press('Enter');
  await expect(page.getByTestId('plan-version')).toHaveText('version 2');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox').fill('keep the plan');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Keep the plan as a template' });
  await dialog.getByLabel('Name').fill('Prints of the yard');
  await dialog.getByLabel('For', { exact: true }).fill('prints with much grain');
  await expect(dialog.getByRole('group', { name: 'Grain' }).getByLabel(/^keep/)).toBeChecked();
  await expect(dialog.getByRole('group', { name: 'Grain' }).getByLabel(/^luma/)).not.toBeChecked();
  await accessible(page);
  await dialog.getByRole('button', { name: 'Keep it' }).click();
  await expect(dialog).toBeHidden();

  await page.goto(`${server.url}/collections/${id}`);
  await page.getByRole('button', { name: 'Choose all' }).click();
  await expect(page.getByRole('status')).toHaveText('3 chosen');
  await page.getByLabel('Choose Harbour, web clip').uncheck();
  await page.getByRole('button', { name: 'Apply a template…' }).click();
  const sheet = page.getByRole('dialog', { name: 'Apply a template to 2 items' });
  await expect(sheet.getByLabel('Template')).toHaveText(/Prints of the yard \(your own\)/);
  await expect(sheet.getByTestId('preview').filter({ hasText: 'Portrait of a child' })).toContainText('nothing changes');
  await expect(sheet.getByTestId('preview').filter({ hasText: 'Slide 14' })).toContainText('Grain: keep 45 % (10 %)');
  await expect(sheet).toContainText('1 of 2 change');
  await accessible(page);
  await sheet.getByRole('button', { name: 'Apply' }).click();
  await expect(sheet).toBeHidden();
  const slide = items.find((i) => i.name.startsWith('Slide')) ?? print;
  const answer = await server.api<Required<ItemAnswer>>(`items/${slide.id}`);
  expect(answer.plan).toMatchObject({ version: 2, change: 'template “Prints of the yard”' });
  // The grain itself was measured on that print.
  expect((answer.plan.plan as PlainPlan).steps.find((s) => s.treatment === 'grain')?.settings).toMatchObject({
    keep: 45,
    luma: Math.round((slide.condition?.measurements.grainLuma ?? 0) * 10) / 10,
  });

  await page.getByRole('link', { name: 'Templates' }).click();
  await expect(page.getByRole('navigation', { name: 'Templates' }).getByRole('button')).toHaveCount(13);
  await page.getByRole('button', { name: /^Prints of the yard/ }).click();
  await expect(page.getByRole('list', { name: 'Steps' })).toContainText('keep 45 %');
  await accessible(page);
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Hand out as a file' }).click();
  const handed = await download;
  expect(handed.suggestedFilename()).toBe('Prints of the yard.json');
  const text = await readFile(await handed.path(), 'utf8');
  await page.getByRole('button', { name: 'Throw away' }).click();
  await expect(page.getByRole('button', { name: /^Prints of the yard/ })).toHaveCount(0);
  await page.getByTestId('template-file').setInputFiles({ name: 'a.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await expect(page.getByRole('button', { name: /^Prints of the yard/ })).toBeVisible();
  const own = (await server.api<KeptTemplate[]>('templates')).filter((t) => t.own);
  expect(own.map((t) => t.template)).toEqual([JSON.parse(text)]);
  await page
    .getByTestId('template-file')
    .setInputFiles({ name: 'b.json', mimeType: 'application/json', buffer: Buffer.from('{"format":"x"}') });
  await expect(page.getByText('b.json: This is no template')).toBeVisible();
});
