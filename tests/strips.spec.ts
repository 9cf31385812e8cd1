import type { PlainPlan } from '../src/shared/plan';
import type { Strip } from '../src/archive/types';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { ItemAnswer } from '../src/archive';

test('a test strip shows candidates with their figures; the winner goes into the plan, and the strip is kept', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Strips', demoMedia('Portrait of a child.tif'));
  const id = items[0].id;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await page.keyboard.press('t');
  const dialog = page.getByRole('dialog', { name: 'Test strip' });
  await dialog.getByLabel('Step').selectOption({ label: '3. Grain' });
  await dialog.getByLabel('What differs').selectOption('Luma');
  await dialog.getByLabel('From').fill('2');
  await dialog.getByLabel('To', { exact: true }).fill('14');
  await dialog.getByRole('button', { name: 'Spread' }).click();
  await expect(dialog.getByRole('list', { name: 'Candidates' })).toHaveText('Luma 2 σLuma 6 σLuma 10 σLuma 14 σ');
  await dialog.getByLabel('Values').fill('1, 12');
  await expect(dialog.getByRole('list', { name: 'Candidates' })).toHaveText('Luma 1 σLuma 12 σ');
  await accessible(page);
  await dialog.getByRole('button', { name: 'Make the strip' }).click();

  const candidates = page.getByTestId('candidate');
  await expect(candidates).toHaveCount(2);
  for (const n of [0, 1]) {
    await expect(candidates.nth(n).locator('canvas')).toHaveAttribute('data-filled', 'true');
    await expect(candidates.nth(n)).toContainText(/time[\d.]+ sedges(none|[\d.]+ px)grain leftσ [\d.]+invented0\.0 %/);
  }
  const noise = async (n: number): Promise<number> => Number(/σ ([\d.]+)invented/.exec((await candidates.nth(n).textContent()) ?? '')?.[1]);
  expect(await noise(1)).toBeLessThan(await noise(0));
  await accessible(page);
  await candidates
    .nth(1)
    .getByRole('button', { name: /^Take into the plan/ })
    .click();
  await expect(candidates.nth(1)).toContainText('taken');
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByTestId('step-grain')).toContainText('luma 12.0');
  await settled(page);

  // Kept with the item, and opened again as it was.
  await page.reload();
  await settled(page);
  await page.getByRole('tab', { name: 'Strips' }).click();
  await expect(page.getByTestId('strip')).toContainText('Luma 12 σtaken');
  await page.getByTestId('strip').getByRole('button', { name: 'open' }).click();
  await expect(page.getByTestId('candidate').first().locator('canvas')).toHaveAttribute('data-filled', 'true');
  const [strip] = await server.api<Strip[]>(`items/${id}/strips`);
  expect(strip).toMatchObject({ about: 'Grain: Luma', chosen: 1, candidates: [{ label: 'Luma 1 σ' }, { label: 'Luma 12 σ' }] });
  expect(strip.candidates[1].figures?.noise).toBeGreaterThanOrEqual(0);
});

test('different treatments for one fault are tried in one place, and bad strips are refused', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'More strips', demoMedia('Photo of a photo.jpg'));
  const id = items[0].id;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await page.keyboard.press('t');
  const dialog = page.getByRole('dialog', { name: 'Test strip' });
  await dialog.getByLabel('What differs').selectOption('the treatment itself');
  for (const way of ['Compression, for blocks', 'Grain, for grain', 'left out']) await dialog.getByLabel(way).check();
  await dialog.getByRole('button', { name: 'Make the strip' }).click();
  await expect(page.getByTestId('candidate')).toHaveCount(3);
  await expect(page.getByTestId('candidate').last().locator('canvas')).toHaveAttribute('data-filled', 'true');
  await page.keyboard.press('Alt+3');
  await expect(page.getByTestId('candidate').last()).toContainText('taken');
  await page.keyboard.press('Escape');
  const kept = async (): Promise<PlainPlan> => (await server.api<Required<ItemAnswer>>(`items/${id}`)).plan.plan as PlainPlan;
  await expect(async () => expect((await kept()).steps.find((s) => s.treatment === 'grain')?.on).toBe(false)).toPass();
  const plan = await kept();
  const region = { x: 0, y: 0, width: 1, height: 1 };
  const bad = { plan, step: plan.steps[0].id, about: 'x', frame: 0, region, candidates: [{ label: 'one', step: plan.steps[0] }] };
  await expect(server.api(`items/${id}/strips`, bad)).rejects.toThrow('2 to 4 candidates');
});
