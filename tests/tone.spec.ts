import sharp from 'sharp';
import type { ItemAnswer } from '../src/archive';
import type { PlainPlan } from '../src/shared/plan';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { TestServer } from './server';

async function settings(server: TestServer, item: string, treatment: string): Promise<Record<string, unknown>> {
  const { plan } = await server.api<Required<ItemAnswer>>(`items/${item}`);
  return (plan.plan as PlainPlan).steps.find((s) => s.treatment === treatment)?.settings ?? {};
}

test('white is picked from the picture, and a curve is drawn over how often each lightness is there', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Tone', demoMedia('Portrait of a child.tif'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  const step = page.getByTestId('step-tone');
  await step.getByRole('button', { name: /^Tone/ }).click();
  await step.getByRole('button', { name: 'Switch on' }).click();
  await step.getByRole('button', { name: 'This was' }).click();
  await step.getByRole('button', { name: 'White', exact: true }).click();
  await page.getByTestId('pick-layer').click({ position: { x: 400, y: 300 } });
  await expect(page.getByTestId('pick-layer')).toHaveCount(0);
  await expect(async () => expect((await settings(server, id, 'tone')).white).toMatch(/^#[0-9a-f]{12}$/)).toPass();
  await settled(page);
  await accessible(page);
  await step.getByRole('button', { name: 'Forget white' }).click();
  await expect(async () => expect((await settings(server, id, 'tone')).white).toBe('')).toPass();

  await step.getByRole('button', { name: 'Curve', exact: true }).click();
  const curve = step.getByTestId('curve');
  await expect(curve.locator('path')).toHaveAttribute('d', /v-\d/);
  const box = await curve.boundingBox();
  if (!box) throw new Error('no curve');
  await page.mouse.move(box.x + box.width * 0.4, box.y + box.height * 0.6);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.4, box.y + box.height * 0.3, { steps: 4 });
  await page.mouse.up();
  await expect(curve.getByRole('slider')).toHaveCount(3);
  await expect(async () =>
    expect((await settings(server, id, 'tone')).curve).toMatch(/^0,0 0\.4\d*,0\.7\d* 1,1$|^0,0 0\.39\d*,0\.[67]\d* 1,1$/),
  ).toPass();
  await curve.getByRole('slider', { name: 'Point 2' }).focus();
  const before = (await settings(server, id, 'tone')).curve;
  await page.keyboard.press('ArrowUp');
  await expect(async () => expect((await settings(server, id, 'tone')).curve).not.toBe(before)).toPass();
  await settled(page);
  await accessible(page);
  await page.keyboard.press('Delete');
  await expect(async () => expect((await settings(server, id, 'tone')).curve).toBe('')).toPass();
});

test('silver that came to the surface of a print is told, tinted and lifted', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Silvering', demoMedia('Edwin and Lilian, 1921.tif'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await expect(page.getByRole('tabpanel', { name: 'Condition' })).toContainText('a veil over the dark parts');
  const step = page.getByTestId('step-silvering');
  // It is offered, and switched on by the restorer.
  await step.getByRole('button', { name: /^Silvering/ }).click();
  await step.getByRole('button', { name: 'Switch on' }).click();
  await step.getByRole('button', { name: 'show', exact: true }).click();
  const found = step.getByLabel('Found in view');
  await expect(found).toContainText('of the view', { timeout: 60_000 });
  const share = async (): Promise<number> => parseFloat((await found.getByRole('definition').first().textContent()) ?? '');
  const all = await share();
  expect(all).toBeGreaterThan(3);
  await accessible(page);
  await step.getByLabel('Strength', { exact: true }).fill('30');
  await step.getByLabel('Strength', { exact: true }).press('Enter');
  await expect(async () => expect(await share()).toBeLessThan(0.7 * all)).toPass({ timeout: 60_000 });
  await expect(async () => expect((await settings(server, id, 'silvering')).strength).toBe(30)).toPass();
});

test('a negative is turned, and its clear film picked', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Negatives', demoMedia('Portrait of a child.tif'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await page.getByRole('button', { name: '+ Add a treatment' }).first().click();
  await page.getByRole('menuitem', { name: /^Negative/ }).click();
  const step = page.getByTestId('step-negative');
  await expect(step).toContainText('ends as the picture has them');
  await settled(page);
  await step.getByRole('button', { name: 'Clear film', exact: true }).click();
  await page.getByTestId('pick-layer').click({ position: { x: 300, y: 200 } });
  await expect(async () => expect((await settings(server, id, 'negative')).clear).toMatch(/^#[0-9a-f]{12}$/)).toPass();
});

test('a change on a large print is first worked as small as the screen shows it', async ({ page, server }, info) => {
  const file = info.outputPath('large.jpg');
  await sharp({
    create: { width: 2400, height: 1600, channels: 3, background: '#806040', noise: { type: 'gaussian', mean: 128, sigma: 30 } },
  })
    .blur(4)
    .jpeg()
    .toFile(file);
  const { items } = await collectionWith(server, 'Large', file);
  await page.goto(`${server.url}/items/${items[0].id}`);
  await settled(page);
  const step = page.getByTestId('step-tone');
  await step.getByRole('button', { name: /^Tone/ }).first().click();
  const coarse = (status: number): Promise<unknown> =>
    page.waitForResponse(
      (r) => r.url().endsWith('/proof') && (r.request().postData() ?? '').includes('"coarse":true') && r.status() === status,
    );
  const first = coarse(200);
  await step.getByRole('button', { name: 'Switch on' }).click();
  await first;
  await settled(page);
  // Where something is hidden for good there is no look without it.
  const none = coarse(204);
  await page.getByRole('button', { name: '+ Add a treatment' }).first().click();
  await page.getByRole('menuitem', { name: /^Redact/ }).click();
  await none;
  await settled(page);
});
