import path from 'node:path';
import type { Locator, Page } from '@playwright/test';
import sharp from 'sharp';
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import type { FacesAnswer, ItemAnswer } from '../src/archive';
import type { PlainPlan, PlanStep } from '../src/shared/plan';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import { ffmpeg } from './media';
import { ROOT } from './server';

/** The step Faces of a plan, open and on. */
async function switchedOn(page: Page): Promise<Locator> {
  const step = page.getByTestId('step-faces');
  await step
    .getByRole('button', { name: /^Faces/ })
    .first()
    .click();
  await step.getByRole('button', { name: 'Switch on' }).click();
  return step;
}

test('faces are found, restored one by one, and one is added by hand', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Faces', demoMedia('Janet and Peter, 1974.jpg'));
  const [{ id }] = items;
  const kept = async (): Promise<PlanStep | undefined> =>
    ((await server.api<Required<ItemAnswer>>(`items/${id}`)).plan.plan as PlainPlan).steps.find((s) => s.treatment === 'faces');
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await expect(page.getByText('Faces in the plan restores small ones')).toBeVisible();
  const step = await switchedOn(page);
  const list = step.getByRole('list', { name: 'Faces before and after' });
  await expect(list.getByRole('listitem')).toHaveCount(2, { timeout: 60_000 });
  await expect(step.locator('[data-testid=face-after][data-there=true]')).toHaveCount(2, { timeout: 60_000 });
  await accessible(page);

  const first = step.getByRole('slider', { name: /^Face 1,/ });
  await first.focus();
  await first.press('Home');
  await expect(async () => expect((await kept())?.settings.each).toMatch(/^[\d.]+,[\d.]+,0$/)).toPass();
  await first.press('ArrowDown');
  await expect(step.getByRole('slider', { name: /^Face 2,/ })).toBeFocused();

  await step.getByRole('button', { name: 'Place one' }).click();
  const stage = await page.getByTestId('stage').boundingBox();
  if (!stage) throw new Error('no stage');
  // By its eyes, which are not level.
  await page.mouse.click(stage.x + stage.width * 0.3, stage.y + stage.height * 0.75);
  await expect(step.getByRole('button', { name: 'and on the other' })).toBeVisible();
  await page.mouse.click(stage.x + stage.width * 0.3 + 40, stage.y + stage.height * 0.75 + 10);
  await expect(list.getByRole('listitem')).toHaveCount(3);
  await expect(async () => expect((await kept())?.settings.each).toMatch(/^\S+ [\d.]+,[\d.]+,100,[\d.]+,14$/)).toPass();
  await list.getByRole('button', { name: /^Remove Face/ }).click();
  await expect(list.getByRole('listitem')).toHaveCount(2);

  await list.getByRole('button', { name: /^Look at Face 2,/ }).click();
  await expect(page.getByTestId('viewer-state')).toContainText('200 %');
  await settled(page);
});

test('faces are restored on the command line as in the interface', async ({ server }, info) => {
  const { items } = await collectionWith(server, 'Faces', demoMedia('Janet and Peter, 1974.jpg'));
  const { faces, share } = await expect
    .poll(() => server.api<FacesAnswer>(`items/${items[0].id}/faces`).then((answer) => (answer.share === 1 ? answer : undefined)), {
      timeout: 60_000,
    })
    .toBeDefined()
    .then(() => server.api<FacesAnswer>(`items/${items[0].id}/faces`));
  expect([faces.length, share]).toEqual([2, 1]);
  const plan = (amount: number): string => {
    const file = info.outputPath(`plan-${amount}.json`);
    const steps = [{ treatment: 'faces', on: true, settings: { amount, noise: 4 } }];
    writeFileSync(file, JSON.stringify({ format: 'wairetic-plan', version: 2, steps }));
    return file;
  };
  const made = async (amount: number): Promise<Buffer> => {
    const out = info.outputPath(`made-${amount}.png`);
    const args = [path.join(ROOT, 'bin/wairetic'), 'treat', demoMedia('Janet and Peter, 1974.jpg'), '--plan', plan(amount), '--out', out];
    const { status, stderr } = spawnSync(process.execPath, args, { encoding: 'utf8', env: { ...process.env, WAIRETIC_ROOT: ROOT } });
    expect(stderr === '' || status === 0, stderr).toBe(true);
    return sharp(out).removeAlpha().raw().toBuffer();
  };
  const [none, all] = [await made(0), await made(100)];
  const { width, height } = await sharp(demoMedia('Janet and Peter, 1974.jpg')).metadata();
  const channels = none.length / (width * height);
  let within = 0,
    beyond = 0;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = channels * (y * width + x);
      if (none[i] === all[i]) continue;
      const near = faces.some(
        (f) => Math.abs(x / width - f.x - f.width / 2) < f.width && Math.abs(y / height - f.y - f.height / 2) < f.height,
      );
      if (near) within++;
      else beyond++;
    }
  expect(within).toBeGreaterThan(500);
  expect(beyond).toBe(0);
});

test('faces are restored by other pictures of the same people', async ({ page, server }, info) => {
  const { items } = await collectionWith(server, 'References', demoMedia('Album leaf, 1928.jpg'), demoMedia('Edwin and Lilian, 1921.tif'));
  const { id } = items[0];
  const kept = async (): Promise<string> => {
    const { plan } = (await server.api<Required<ItemAnswer>>(`items/${id}`)).plan;
    return String((plan as PlainPlan).steps.find((s) => s.treatment === 'faces')?.settings.references);
  };
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  const step = await switchedOn(page);
  await expect(step.getByRole('listitem')).toHaveCount(3, { timeout: 60_000 });
  await step.getByRole('button', { name: 'Find in People' }).click();
  await expect(page.getByText('2 of 3 faces can be restored by other pictures.')).toBeVisible({ timeout: 180_000 });
  await expect(step.getByText('for 2 of 3')).toBeVisible();
  const edwin = step.getByRole('button', { name: /^Edwin and Lilian, 1921, \d+ px/ });
  await expect(edwin).toHaveCount(2);
  await accessible(page);

  // Left out, it stays out when they are looked for again.
  await edwin.first().click();
  await page.getByRole('menuitem', { name: 'Leave it out' }).click();
  await expect(step.getByText('for 1 of 3')).toBeVisible();
  await expect.poll(kept).toMatch(/=-[0-9a-f]{64}/);
  await step.getByRole('button', { name: 'Find in People' }).click();
  await expect(page.getByText('1 of 3 faces can be restored by other pictures.')).toBeVisible({ timeout: 60_000 });

  // From a file: its largest face, kept.
  const file = info.outputPath('Lilian.png');
  await sharp(demoMedia('Edwin and Lilian, 1921.tif')).toColourspace('srgb').png().toFile(file);
  await step.getByLabel('File with another picture of face 1').setInputFiles(file);
  await expect(step.getByRole('button', { name: /^Lilian.png, \d+ px, kept/ })).toBeVisible({ timeout: 60_000 });
  await expect.poll(kept).toMatch(/=![0-9a-f]{64}/);
  const empty = info.outputPath('Nobody.png');
  await sharp({ create: { width: 300, height: 200, channels: 3, background: '#805030' } })
    .png()
    .toFile(empty);
  await step.getByLabel('File with another picture of face 1').setInputFiles(empty);
  await expect(page.getByText('No face is found in Nobody.png.')).toBeVisible({ timeout: 60_000 });
  await settled(page);
});

test('faces are restored by other pictures on the command line', async ({}, info) => {
  const plan = info.outputPath('plan.json');
  const steps = [{ treatment: 'faces', on: true, settings: { noise: 4, grain: 0 } }];
  writeFileSync(plan, JSON.stringify({ format: 'wairetic-plan', version: 2, steps }));
  const run = (out: string, ...more: string[]): { status: number | null; stderr: string } => {
    const args = ['treat', demoMedia('Album leaf, 1928.jpg'), '--plan', plan, '--out', info.outputPath(out), ...more];
    return spawnSync(process.execPath, [path.join(ROOT, 'bin/wairetic'), ...args], {
      ...{ encoding: 'utf8', env: { ...process.env, WAIRETIC_ROOT: ROOT } },
    });
  };
  const refused = run('refused.png', '--reference', demoMedia('Slide 14, the harbour.jpg'));
  expect([refused.status, refused.stderr]).toEqual([1, expect.stringContaining('No face is found in')]);
  const made = run('made.png', '--reference', demoMedia('Edwin and Lilian, 1921.tif'));
  expect(made.status, made.stderr).toBe(0);
  expect(run('none.png').status).toBe(0);
  const [with_, without] = await Promise.all(
    ['made.png', 'none.png'].map((name) => sharp(info.outputPath(name)).removeAlpha().raw().toBuffer()),
  );
  const changed = with_.filter((v, i) => v !== without[i]).length;
  expect(changed).toBeGreaterThan(500);
  expect(changed).toBeLessThan(0.1 * with_.length);
});

test('a face of a film is followed, and restored along its shot', async ({ page, server }, info) => {
  const clip = info.outputPath('A walk past.mkv');
  const moved = "scale=480:-2,crop=320:240:x='20+2*n':y=40,noise=alls=6:allf=t,format=yuv420p";
  ffmpeg('-loop', '1', '-i', path.join(ROOT, 'demo/plates/couple.png'), '-vf', moved, '-frames:v', '24', '-c:v', 'ffv1', clip);
  const { items } = await collectionWith(server, 'Films', clip);
  await page.goto(`${server.url}/items/${items[0].id}`);
  await settled(page);
  const upscale = page.getByTestId('step-upscale');
  await upscale.getByRole('button', { name: /^Upscale/ }).click();
  await upscale.getByRole('button', { name: 'Switch off' }).click();
  await page.getByRole('button', { name: '+ Add a treatment' }).first().click();
  await page.getByRole('menuitem', { name: /^Faces/ }).click();
  const step = page.getByTestId('step-faces');
  const list = step.getByRole('list', { name: 'Faces before and after' });
  await expect(list.getByText('frames 0–23')).toHaveCount(2, { timeout: 90_000 });
  await expect(step.locator('[data-testid=face-after][data-there=true]')).toHaveCount(2, { timeout: 60_000 });
  await expect(step.getByRole('button', { name: 'Place one' })).toHaveCount(0);
  await accessible(page);

  const first = step.getByRole('slider', { name: /^Face 1,/ });
  await first.focus();
  await first.press('Home');
  const kept = async (): Promise<PlanStep | undefined> =>
    ((await server.api<Required<ItemAnswer>>(`items/${items[0].id}`)).plan.plan as PlainPlan).steps.find((s) => s.treatment === 'faces');
  await expect(async () => expect((await kept())?.settings.each).toMatch(/^[\d.]+,[\d.]+,0@\d+$/)).toPass();
  await list.getByRole('button', { name: /^Look at Face 2,/ }).click();
  await expect(page.getByTestId('viewer-state')).toContainText('200 %');
  await settled(page);
});
