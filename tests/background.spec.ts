import sharp from 'sharp';
import path from 'node:path';
import type { Delivery, Item, ItemAnswer, JobProgress, StrokesAnswer } from '../src/archive';
import type { PlainPlan, PlanStep } from '../src/shared/plan';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';

test('the people are found, corrected by hand, and what is behind them is dropped', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Backgrounds', demoMedia('Portrait of a child.tif'));
  const [{ id }] = items;
  const kept = async (): Promise<PlanStep | undefined> =>
    ((await server.api<Required<ItemAnswer>>(`items/${id}`)).plan.plan as PlainPlan).steps.find((s) => s.treatment === 'background');
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await page.getByRole('button', { name: '+ Add a treatment' }).first().click();
  await page.getByRole('menuitem', { name: /^Background/ }).click();
  const step = page.getByTestId('step-background');
  await settled(page);
  await expect(step).toContainText('softened');
  await expect(step).not.toContainText('being measured', { timeout: 60_000 });
  await step.getByRole('button', { name: 'show', exact: true }).click();
  // The child fills about two fifths of its portrait.
  await expect(step.getByLabel('Found in view')).toContainText(/of the view[345]\d\.\d\d %/, { timeout: 60_000 });
  await accessible(page);

  await step.getByRole('button', { name: 'background', exact: true }).click();
  const stage = await page.getByTestId('stage').boundingBox();
  if (!stage) throw new Error('no stage');
  await page.mouse.move(stage.x + stage.width * 0.65, stage.y + stage.height * 0.5);
  await page.mouse.down();
  await page.mouse.move(stage.x + stage.width * 0.65 + 30, stage.y + stage.height * 0.5, { steps: 3 });
  await page.mouse.up();
  await expect(async () => {
    const marks = (await kept())?.marks;
    expect(marks).toBeDefined();
    expect((await server.api<StrokesAnswer>(`items/${id}/strokes?list=${marks}`)).strokes).toMatchObject([{ use: 'ground', on: true }]);
  }).toPass();
  await step.getByRole('button', { name: 'Done' }).click();
  await step.getByLabel('It is').selectOption('drop');
  await expect(async () => expect((await kept())?.settings.way).toBe('drop')).toPass();
  await settled(page);

  await server.api('jobs', { itemId: id, original: false, stillMaster: 'png', stillAccess: 'jpeg' });
  const state = async (): Promise<string | undefined> => (await server.api<JobProgress[]>('jobs')).find((j) => j.itemId === id)?.state;
  await expect.poll(state, { timeout: 180_000 }).toBe('done');
  const delivery = (await server.api<Delivery[]>('deliveries')).find((d) => d.itemId === id) as Delivery;
  const file = (kind: string): string =>
    path.join(server.home, 'deliveries', delivery.folder, delivery.files.find((f) => f.kind === kind)?.fileName ?? '');
  const { data, info } = await sharp(file('master'))
    .ensureAlpha()
    .extractChannel(3)
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  expect(data[20 * info.width + 20]).toBe(0);
  expect(data[Math.round(0.3 * info.height) * info.width + Math.round(0.5 * info.width)]).toBe(255);
  // What cannot be seen through is filled.
  expect((await sharp(file('access')).metadata()).hasAlpha).toBe(false);
});

test('a background becomes another picture of the collection', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Laid in', demoMedia('Portrait of a child.tif'), demoMedia('Two on the quay.jpg'));
  const child = items.find(({ name }) => name.startsWith('Portrait')) as Item,
    quay = items.find(({ name }) => name.startsWith('Two')) as Item;
  await page.goto(`${server.url}/items/${child.id}`);
  await settled(page);
  await page.getByRole('button', { name: '+ Add a treatment' }).first().click();
  await page.getByRole('menuitem', { name: /^Background/ }).click();
  const step = page.getByTestId('step-background');
  await step.getByLabel('It is').selectOption('picture');
  await expect(step).toContainText('no picture chosen');
  await step.getByLabel('Picture', { exact: true }).selectOption(quay.name);
  await expect(step.getByRole('button', { name: /^Background/ }).first()).toContainText('another picture', { timeout: 60_000 });
  const { plan } = await server.api<Required<ItemAnswer>>(`items/${child.id}`);
  const settings = (plan.plan as PlainPlan).steps.find((s) => s.treatment === 'background')?.settings;
  const laid = await server.fetch(`/api/marks/${settings?.picture as string}`);
  const { width, height } = await sharp(Buffer.from(await laid.arrayBuffer())).metadata();
  expect(Math.min(width, height)).toBeGreaterThan(300);
  expect((settings?.picture as string).length).toBe(64);
  await accessible(page);
});
