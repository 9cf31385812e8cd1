import { readFileSync, writeFileSync } from 'node:fs';
import sharp from 'sharp';
import type { ItemAnswer } from '../src/archive';
import type { PlainPlan, PlanStep } from '../src/shared/plan';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';

const steps = async (server: { api: <T>(path: string) => Promise<T> }, id: string): Promise<PlanStep[]> =>
  ((await server.api<Required<ItemAnswer>>(`items/${id}`)).plan.plan as PlainPlan).steps;

test('a face of another picture is laid onto one here, moved, and told apart in the evidence', async ({ page, server }) => {
  const files = ['Album leaf, 1937.jpg', 'Album leaf, 1955.jpg'].map(demoMedia);
  const { items } = await collectionWith(server, 'Inlays', ...files);
  const [{ id }] = items;
  const other = items[1];
  const settings = async () => (await steps(server, id)).find((s) => s.treatment === 'inlay')?.settings;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await page.getByRole('button', { name: '+ Add a treatment' }).first().click();
  await page.getByRole('menuitem', { name: /^Inlay/ }).click();
  const step = page.getByTestId('step-inlay');
  await expect(step).toContainText('no picture chosen');
  await step.getByLabel('Picture', { exact: true }).selectOption(other.name);
  await expect(step.getByRole('button', { name: /^Inlay/ }).first()).toContainText('another picture', { timeout: 60_000 });
  await expect.poll(async () => (await settings())?.shape).toBe('whole');

  await step.getByLabel('Part of it').selectOption({ index: 1 }, { timeout: 60_000 });
  await expect.poll(async () => (await settings())?.shape, { timeout: 60_000 }).toBe('oval');
  await step.getByLabel('Laid on').selectOption({ index: 1 });
  await expect(step.getByLabel('Laid on').locator('option').first()).toHaveText('a face here');
  await settled(page);
  await accessible(page);
  const onFace = await settings();

  await page.getByRole('button', { name: 'Evidence', exact: true }).click();
  await settled(page);
  await expect(page.getByTestId('viewer-state')).toContainText(/invented \d/);
  await page.getByRole('button', { name: 'Evidence', exact: true }).click();

  const laid = page.getByRole('button', { name: 'Picture that is laid in; arrows move it' });
  await laid.press('Shift+ArrowRight');
  await expect.poll(async () => Number((await settings())?.x) - Number(onFace?.x)).toBeCloseTo(10, 2);
  const handle = page.getByTestId('inlay-handle-1');
  const box = await handle.boundingBox();
  if (!box) throw new Error('no handle');
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 20, box.y + box.height / 2 + 12, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => Number((await settings())?.width)).toBeGreaterThan(Number(onFace?.width));
  await expect(step.getByLabel('Laid on').locator('option').first()).toHaveText('by hand');
});

test('a face goes out as a file, comes back to where it was, and nowhere else', async ({ page, server }, info) => {
  const { items } = await collectionWith(server, 'Crops', demoMedia('Portrait of a child.tif'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  const faces = page.getByTestId('step-faces');
  await faces
    .getByRole('button', { name: /^Faces/ })
    .first()
    .click();
  const download = page.waitForEvent('download', { timeout: 120_000 });
  await faces.getByRole('link', { name: 'Save face 1 as a file' }).click({ timeout: 60_000 });
  const out = info.outputPath('face.png');
  await (await download).saveAs(out);
  const { width, height, depth } = await sharp(out).metadata();
  expect(depth).toBe('ushort');

  const wrong = info.outputPath('wrong.png');
  writeFileSync(
    wrong,
    await sharp(out)
      .extract({ left: 0, top: 0, width: width >> 1, height })
      .png()
      .toBuffer(),
  );
  await faces.getByLabel('File of face 1').setInputFiles(wrong);
  await expect(page.getByText(/That is no crop of this face/)).toBeVisible();
  expect((await steps(server, id)).some((s) => s.treatment === 'inlay')).toBe(false);
  writeFileSync(info.outputPath('none.png'), 'no picture');
  await faces.getByLabel('File of face 1').setInputFiles(info.outputPath('none.png'));
  await expect(page.getByText(/cannot be|no picture|not a/i).first()).toBeVisible();

  // Worked on elsewhere: twice the size, and all white.
  const worked = info.outputPath('worked.png');
  writeFileSync(
    worked,
    await sharp({ create: { width: 2 * width, height: 2 * height, channels: 3, background: '#fff' } })
      .png()
      .toBuffer(),
  );
  await faces.getByLabel('File of face 1').setInputFiles(worked);
  await expect(page.getByText('The crop lies where it was')).toBeVisible({ timeout: 60_000 });
  await expect.poll(async () => (await steps(server, id)).at(-1)?.treatment).toBe('inlay');
  await settled(page);
  const again = page.waitForEvent('download', { timeout: 120_000 });
  await faces.getByRole('link', { name: 'Save face 1 as a file' }).click();
  await (await again).saveAs(info.outputPath('again.png'));
  const { data } = await sharp(readFileSync(info.outputPath('again.png')))
    .greyscale()
    .raw({ depth: 'uchar' })
    .toBuffer({ resolveWithObject: true });
  expect(data[(height >> 1) * width + (width >> 1)]).toBeGreaterThan(250);
  const before = await sharp(readFileSync(out)).greyscale().raw({ depth: 'uchar' }).toBuffer();
  // Its edge is soft: at the rim the picture is as it was.
  expect(Math.abs(data[0] - before[0])).toBeLessThanOrEqual(2);
});
