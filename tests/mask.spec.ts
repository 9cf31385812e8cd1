import type { PlainPlan } from '../src/shared/plan';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { ItemAnswer } from '../src/archive';

test('a step is held to areas drawn on the picture, by pointer and by keyboard', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Masks', demoMedia('Portrait of a child.tif'));
  const kept = async (): Promise<PlainPlan> => (await server.api<Required<ItemAnswer>>(`items/${items[0].id}`)).plan.plan as PlainPlan;
  const maskKept = async () => (await kept()).steps.find((s) => s.treatment === 'grain')?.mask;
  await page.goto(`${server.url}/items/${items[0].id}`);
  await settled(page);
  // A step that changes the whole picture takes none.
  await page
    .getByTestId('step-upscale')
    .getByRole('button', { name: /^Upscale/ })
    .click();
  await expect(page.getByTestId('step-upscale').getByRole('button', { name: 'oval', exact: true })).toHaveCount(0);
  const step = page.getByTestId('step-grain');
  await step.getByRole('button', { name: /^Grain/ }).click();
  await step.getByRole('button', { name: 'oval', exact: true }).click();
  const area = page.getByTestId('area-0');
  await expect(area).toBeVisible();
  await expect(step.getByText('inside 1 oval')).toBeVisible();
  await settled(page);
  await accessible(page);

  const before = await area.boundingBox();
  if (!before) throw new Error('no outline');
  // Beside the split line, which lies over it.
  const grip = { x: before.x + before.width / 4, y: before.y + before.height / 2 };
  await page.mouse.move(grip.x, grip.y);
  await page.mouse.down();
  await page.mouse.move(grip.x + 60, grip.y + 10, { steps: 4 });
  await page.mouse.up();
  await expect(async () => expect((await area.boundingBox())?.x).toBeCloseTo(before.x + 60, 0)).toPass();
  const corner = await page.getByTestId('corner-0').boundingBox();
  if (!corner) throw new Error('no corner');
  await page.mouse.move(corner.x + 5, corner.y + 5);
  await page.mouse.down();
  await page.mouse.move(corner.x + 45, corner.y + 5, { steps: 4 });
  await page.mouse.up();
  await expect(async () => expect((await area.boundingBox())?.width).toBeCloseTo(before.width + 40, 0)).toPass();

  const row = step.getByRole('button', { name: /^1: oval/ });
  await row.focus();
  const words = await row.textContent();
  await row.press('Alt+ArrowDown');
  await expect(row).not.toHaveText(words ?? '');
  await step.getByLabel('Where it works').selectOption('outside');
  await step.getByLabel('Soft edge').fill('5');
  await step.getByLabel('Soft edge').press('Enter');
  await expect(async () =>
    expect(await maskKept()).toMatchObject({ inverse: true, feather: 0.05, parts: [{ shape: { kind: 'oval' } }] }),
  ).toPass();

  await step.getByRole('button', { name: 'box', exact: true }).click();
  await expect(step.getByText('outside 2 shapes')).toBeVisible();
  await step.getByRole('button', { name: 'Remove part 1' }).click();
  await expect(async () => expect((await maskKept())?.parts.map((p) => p.shape.kind)).toEqual(['box'])).toPass();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(async () => expect((await maskKept())?.parts).toHaveLength(2)).toPass();
  await step.getByLabel('Where it works').selectOption('everywhere');
  await expect(area).toHaveCount(0);
  await expect(async () => expect(await maskKept()).toBeUndefined()).toPass();
});
