import type { Page } from '@playwright/test';
import type { ItemAnswer, StrokesAnswer } from '../src/archive';
import type { StrokeMark } from '../src/shared/marks';
import type { PlainPlan, PlanStep } from '../src/shared/plan';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { TestServer } from './server';

/** What is kept of a step of an item, and the strokes it holds. */
async function kept(server: TestServer, item: string, treatment: string): Promise<{ step?: PlanStep; strokes: StrokeMark[] }> {
  const { plan } = await server.api<Required<ItemAnswer>>(`items/${item}`);
  const step = (plan.plan as PlainPlan).steps.find((s) => s.treatment === treatment);
  const strokes = step?.marks ? (await server.api<StrokesAnswer>(`items/${item}/strokes?list=${step.marks}`)).strokes : [];
  return { step, strokes };
}

async function dab(page: Page, u: number, v: number): Promise<void> {
  const stage = await page.getByTestId('stage').boundingBox();
  if (!stage) throw new Error('no stage');
  await page.mouse.move(stage.x + stage.width * u, stage.y + stage.height * v);
  await page.mouse.down();
  await page.mouse.move(stage.x + stage.width * u + 12, stage.y + stage.height * v + 4, { steps: 3 });
  await page.mouse.up();
}

test('faults are marked by hand; marks are moved, changed, switched off, removed and brought back', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Hand work', demoMedia('Portrait of a child.tif'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await page.keyboard.press('m');
  const step = page.getByTestId('step-heal');
  await expect(step.getByRole('button', { name: 'fault', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await dab(page, 0.3, 0.4);
  await expect(step.getByRole('list', { name: 'Marks' }).getByRole('listitem')).toHaveCount(1);
  await settled(page);
  const [first] = (await kept(server, id, 'heal')).strokes;
  expect(first).toMatchObject({ use: 'heal', on: true });
  await accessible(page);

  // What it fills is seen in the result: the plan with the mark gives another picture than the one without.
  await step.getByRole('button', { name: 'Done' }).click();
  const handle = await page.getByTestId('mark-0').boundingBox();
  if (!handle) throw new Error('no handle');
  await page.mouse.move(handle.x + 4, handle.y + 4);
  await page.mouse.down();
  await page.mouse.move(handle.x + 44, handle.y + 34, { steps: 4 });
  await page.mouse.up();
  await expect(async () =>
    expect((await kept(server, id, 'heal')).strokes[0].points[0].x).toBeGreaterThan(first.points[0].x + 10),
  ).toPass();

  await step.getByRole('button', { name: '2', exact: true }).click();
  await expect(async () => expect((await kept(server, id, 'heal')).strokes[0].answer).toBe(1)).toPass();
  // All answers are looked at beside one another, and one is taken.
  await step.getByRole('button', { name: 'Answers side by side' }).click();
  await expect(page.getByTestId('candidate')).toHaveCount(3);
  await accessible(page);
  await page
    .getByTestId('candidate')
    .nth(2)
    .getByRole('button', { name: /Take into the plan/ })
    .click();
  await expect(async () => expect((await kept(server, id, 'heal')).strokes[0].answer).toBe(2)).toPass();
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('candidate')).toHaveCount(0);
  await step.getByRole('button', { name: 'place', exact: true }).click();
  await expect(page.getByTestId('mark-from-0')).toBeVisible();
  const ring = await page.getByTestId('mark-from-0').boundingBox();
  if (!ring) throw new Error('no ring');
  const before = (await kept(server, id, 'heal')).strokes[0].from;
  await page.mouse.move(ring.x + ring.width / 2, ring.y + ring.height / 2);
  await page.mouse.down();
  await page.mouse.move(ring.x + ring.width / 2 - 30, ring.y + ring.height / 2 + 40, { steps: 4 });
  await page.mouse.up();
  await expect(async () => expect((await kept(server, id, 'heal')).strokes[0].from?.y).toBeGreaterThan((before?.y ?? 0) + 10)).toPass();

  await step.getByRole('button', { name: 'on', exact: true }).click();
  await expect(async () => expect((await kept(server, id, 'heal')).strokes[0].on).toBe(false)).toPass();
  await step.getByRole('button', { name: 'Remove mark 1' }).click();
  await expect(async () => expect((await kept(server, id, 'heal')).strokes).toEqual([])).toPass();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(async () => expect((await kept(server, id, 'heal')).strokes).toHaveLength(1)).toPass();
  await page.reload();
  await settled(page);
  await step.getByRole('button', { name: /^Heal/ }).click();
  await expect(step.getByRole('list', { name: 'Marks' }).getByRole('listitem')).toHaveCount(1);
});

test('what is taken for damage is shown and counted, and a stroke keeps what is none', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Dirt', demoMedia('Launching day, 1948.jpg'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  const step = page.getByTestId('step-dirt');
  await step.getByRole('button', { name: /^Dirt/ }).click();
  // It stands out from what the print shows, and is proposed.
  await expect(step.getByRole('button', { name: 'Switch off' })).toBeVisible();
  await step.getByRole('button', { name: 'show', exact: true }).click();
  const found = step.getByLabel('Found in view');
  await expect(found).toContainText('of the view', { timeout: 60_000 });
  await expect(page.getByText('what was found')).toBeVisible();
  const share = async (): Promise<number> => parseFloat((await found.getByRole('definition').first().textContent()) ?? '');
  const all = await share();
  expect(all).toBeGreaterThan(0.05);
  await accessible(page);

  // A wide stroke across the middle keeps whatever was found there.
  await step.getByRole('button', { name: 'no damage' }).click();
  await step.getByLabel('Width', { exact: true }).fill('600');
  await step.getByLabel('Width', { exact: true }).press('Enter');
  await dab(page, 0.6, 0.45);
  await expect(async () => expect((await kept(server, id, 'dirt')).strokes).toMatchObject([{ use: 'keep', size: 600 }])).toPass();
  await expect(async () => expect(await share()).toBeLessThan(all)).toPass({ timeout: 60_000 });

  // A stain that is painted over is lifted: it counts in the view, and is a mark of its own.
  const without = await share();
  await step.getByRole('button', { name: 'stain', exact: true }).click();
  await step.getByLabel('Width', { exact: true }).fill('300');
  await step.getByLabel('Width', { exact: true }).press('Enter');
  // Beside the first mark's handle, which would be dragged.
  await dab(page, 0.68, 0.52);
  await expect(async () =>
    expect((await kept(server, id, 'dirt')).strokes).toMatchObject([{ use: 'keep' }, { use: 'stain', size: 300 }]),
  ).toPass();
  await expect(async () => expect(await share()).toBeGreaterThan(without)).toPass({ timeout: 60_000 });
  await expect(step.getByRole('list', { name: 'Marks' }).getByRole('listitem').nth(1)).toContainText('2: stain, 300 px');
});

test('the trace of a motion is drawn over the picture', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Motion', demoMedia('Portrait of a child.tif'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  const step = page.getByTestId('step-focus');
  await step.getByRole('button', { name: /^Focus/ }).click();
  await step.getByRole('radio', { name: 'motion', exact: true }).click();
  await step.getByRole('button', { name: 'draw its trace' }).click();
  const layer = await page.getByTestId('line-layer').boundingBox();
  if (!layer) throw new Error('no layer');
  await page.mouse.move(layer.x + 200, layer.y + 200);
  await page.mouse.down();
  await page.mouse.move(layer.x + 200, layer.y + 212, { steps: 3 });
  await page.mouse.up();
  await expect(page.getByTestId('line-layer')).toHaveCount(0);
  await expect(async () => expect((await kept(server, id, 'focus')).step?.settings).toMatchObject({ cause: 'motion', angle: 90 })).toPass();
  expect((await kept(server, id, 'focus')).step?.settings.length).toBeGreaterThan(3);
});

test('hand work that cannot be read is refused in words', async ({ server }) => {
  const { items } = await collectionWith(server, 'Refused', demoMedia('Portrait of a child.tif'));
  const send = (body: unknown): Promise<Response> =>
    server.fetch(`/api/items/${items[0].id}/strokes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  const wrong = await send({ set: [{ id: 'a', use: 'heal', on: true, points: [], size: 3, softness: 0 }], remove: [] });
  expect([wrong.status, ((await wrong.json()) as { error: string }).error]).toEqual([400, expect.stringContaining('1 to 5000 points')]);
  const unknown = await server.fetch(`/api/items/${items[0].id}/strokes?list=${'e'.repeat(64)}`);
  expect([unknown.status, ((await unknown.json()) as { error: string }).error]).toEqual([
    422,
    expect.stringContaining('is not in this archive'),
  ]);
});
