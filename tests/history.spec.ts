import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { ItemAnswer, PlanAnswer } from '../src/archive';
import type { PlanHistory } from '../src/archive/types';
import type { PlainPlan } from '../src/shared/plan';

let print = '';

test.beforeAll(async ({ server }) => {
  const { items } = await collectionWith(server, 'Histories', demoMedia('Portrait of a child.tif'));
  print = items[0].id;
});

test('a hundred changes are undone and done again, across a reload', async ({ page, server }) => {
  await page.goto(`${server.url}/items/${print}`);
  await settled(page);
  const step = page.getByTestId('step-grain');
  await step.getByRole('button', { name: /^Grain/ }).click();
  const luma = step.getByLabel('Luma', { exact: true });
  await luma.focus();
  const start = Number(await luma.inputValue());
  const value = (changes: number): string => String(Number((start + changes * 0.1).toFixed(4)));
  for (let n = 0; n < 110; n++) await luma.press('ArrowUp');
  await expect(luma).toHaveValue(value(110));
  const history = () => server.api<PlanHistory>(`items/${print}/plan`);
  await expect(async () => expect((await history()).current).toBe(111)).toPass();
  await page.reload();
  await settled(page);
  await expect(page.getByTestId('plan-version')).toHaveText('version 111');
  await page.getByRole('region', { name: 'Picture' }).focus();
  for (let n = 0; n < 105; n++) await page.keyboard.press('Control+z');
  await expect(step).toContainText(`luma ${(start + 0.5).toFixed(1)}`);
  await expect(async () => expect(await history()).toMatchObject({ current: 6, tip: 111 })).toPass();
  await page.reload();
  await settled(page);
  await expect(step).toContainText(`luma ${(start + 0.5).toFixed(1)}`);
  for (let n = 0; n < 105; n++) await page.keyboard.press('Control+Shift+z');
  await expect(step).toContainText(`luma ${(start + 11).toFixed(1)}`);
  await expect(page.getByRole('button', { name: 'Redo' })).toBeDisabled();
});

test('a version is named, compared with in the picture, and gone back to', async ({ page, server }) => {
  await page.goto(`${server.url}/items/${print}`);
  await settled(page);
  const keep = page.getByTestId('step-grain');
  await keep.getByRole('button', { name: /^Grain/ }).click();
  await keep.getByLabel('Keep', { exact: true }).fill('70');
  await keep.getByLabel('Keep', { exact: true }).press('Enter');
  await page.getByRole('tab', { name: 'History' }).click();
  const versions = page.getByTestId('version');
  await expect(versions.first()).toContainText('present');
  const first = versions.last();
  await expect(first).toContainText('proposed from the condition report');
  await first.getByRole('button', { name: 'name' }).click();
  await page.getByLabel('Name of version 1').fill('as it came');
  await page.keyboard.press('Enter');
  await expect(first).toContainText('as it came');
  await first.getByRole('button', { name: 'compare', exact: true }).click();
  await expect(page.getByTestId('stage').getByText('as it came')).toBeVisible();
  await page.keyboard.press('c');
  await page.keyboard.press('c');
  await page.keyboard.press('c');
  await expect(page.getByTestId('stage').getByText('difference of as it came and result')).toBeVisible();
  await settled(page);
  await accessible(page);
  await page.getByRole('button', { name: 'back to the source' }).click();
  await expect(page.getByTestId('stage').getByText('difference of source and result')).toBeVisible();
  await first.getByRole('button', { name: 'restore' }).click();
  await expect(page.getByTestId('plan-version')).toHaveText('version 1');
  await expect(async () => {
    const { current, versions: kept } = await server.api<PlanHistory>(`items/${print}/plan`);
    expect([current, kept[0].name]).toEqual([1, 'as it came']);
  }).toPass();
  // What was ahead is still there.
  await expect(page.getByRole('button', { name: 'Redo' })).toBeEnabled();
});

test('a plan that is changed counts as looked at in the present versions, at once', async ({ server }) => {
  const { plan } = await server.api<Required<ItemAnswer>>(`items/${print}`);
  const { steps } = plan.plan as PlainPlan;
  const other = { ...plan.plan, steps: steps.map((step) => ({ ...step, version: 99 })) };
  const { description } = await server.api<PlanAnswer>(`items/${print}/plan`, { plan: other, change: 'as it was' }, 'PUT');
  expect(description.steps.filter(({ warning }) => warning?.includes('look again'))).toEqual([]);
});
