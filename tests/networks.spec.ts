import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { PlainPlan } from '../src/shared/plan';
import type { Delivery, Job } from '../src/archive/types';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import { ROOT, TestServer } from './server';
import type { ItemAnswer } from '../src/archive';

const sha256 = (file: string): string => createHash('sha256').update(readFileSync(file)).digest('hex');

test('the best choice shows what it will take, changes the picture, and is in the record with its network', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Networks', demoMedia('Portrait of a child.tif'));
  const [print] = items;
  await page.goto(`${server.url}/items/${print.id}`);
  await settled(page);
  const step = page.getByTestId('step-grain');
  await step.getByRole('button', { name: /^Grain/ }).click();
  // The machine's pace is measured while the server is young; a plan that comes later has it.
  await expect(async () => {
    await page.reload();
    await settled(page);
    await page
      .getByTestId('step-grain')
      .getByRole('button', { name: /^Grain/ })
      .click();
    await expect(step.getByRole('radio', { name: /^best \d/ })).toBeVisible({ timeout: 1000 });
  }).toPass({ timeout: 90_000 });
  await expect(step.getByRole('radio', { name: /^fast \d/ })).toBeChecked();
  await expect(step.getByLabel('Chroma size', { exact: true })).toBeVisible();
  await step.getByRole('radio', { name: /^best/ }).click();
  await expect(step.getByLabel('Chroma size', { exact: true })).toBeHidden();
  await settled(page);
  await accessible(page);
  await expect(page.getByTestId('plan-version')).toHaveText(/version [2-9]/);
  await page
    .getByTestId('step-upscale')
    .getByRole('button', { name: /^Upscale/ })
    .click();
  await page.getByTestId('step-upscale').getByRole('button', { name: 'Switch off' }).click();
  await page.getByRole('button', { name: 'Add to queue' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Add to queue' }).click();
  await page.getByRole('dialog').waitFor({ state: 'hidden' });
  // Other tests' jobs are in the queue too.
  const state = async (): Promise<string | undefined> => (await server.api<Job[]>('jobs')).find((j) => j.itemId === print.id)?.state;
  await expect.poll(state, { timeout: 120_000 }).toBe('done');
  const [delivery] = (await server.api<Delivery[]>('deliveries')).filter((d) => d.itemId === print.id);
  const record = delivery.files.find((f) => f.kind === 'provenance');
  const { networks } = (await (
    await server.fetch(`/api/deliveries/${delivery.id}/${encodeURIComponent(record?.fileName ?? '')}`)
  ).json()) as {
    networks: { name: string; sha256: string }[];
  };
  expect(networks).toMatchObject([{ name: 'clean', sha256: sha256(path.join(ROOT, 'models/clean.onnx')) }]);
});

test('without its networks the program says so at the step, and the fast choice goes on', async ({ page }) => {
  const models = mkdtempSync(path.join(tmpdir(), 'wairetic-no-models-'));
  const server = new TestServer({ WAIRETIC_MODELS: models });
  await server.start();
  try {
    const { items } = await collectionWith(server, 'Without', demoMedia('Portrait of a child.tif'));
    await page.goto(`${server.url}/items/${items[0].id}`);
    await settled(page);
    const step = page.getByTestId('step-grain');
    await step.getByRole('button', { name: /^Grain/ }).click();
    await step.getByRole('radio', { name: /^best/ }).click();
    await expect(step).toContainText('The network "clean" has no card');
    await expect(page.getByRole('alert').filter({ hasText: 'Choose "fast"' })).toBeVisible();
    const { plan } = await server.api<ItemAnswer>(`items/${items[0].id}`);
    expect((plan?.plan as PlainPlan).steps.find((s) => s.treatment === 'grain')?.settings.quality).toBe('best');
    await page.getByRole('button', { name: 'Add to queue' }).click();
    await expect(page.getByRole('dialog')).toContainText('The plan cannot run');
    await page.keyboard.press('Escape');
    await step.getByRole('radio', { name: /^fast/ }).click();
    await settled(page);
    await expect(page.getByRole('alert').filter({ hasText: 'Choose "fast"' })).toBeHidden();
    expect(await server.api<Job[]>('jobs')).toEqual([]);
  } finally {
    await server.stop();
    rmSync(models, { recursive: true });
  }
});
