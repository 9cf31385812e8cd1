import type { Fork, Plan } from '../src/shared/plan';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { ItemAnswer } from '../src/archive';

test('a plan forks: a strong result on a part, the gentle one elsewhere, each looked at alone', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Forks', demoMedia('Portrait of a child.tif'));
  const kept = async (): Promise<Plan> => (await server.api<Required<ItemAnswer>>(`items/${items[0].id}`)).plan.plan;
  const fork = async (): Promise<Fork> => (await kept()).steps.find((s) => 'branches' in s) as Fork;
  await page.goto(`${server.url}/items/${items[0].id}`);
  await settled(page);
  const grain = page.getByTestId('step-grain').first();
  await grain.getByRole('button', { name: /^Grain/ }).click();
  await grain.getByRole('button', { name: 'Fork', exact: true }).click();
  const branches = page.getByTestId('branch');
  await expect(branches).toHaveCount(2);
  const over = branches.last();
  // The branch on top is open: it gets a name, an opacity and a mask.
  await over.getByLabel('Name').fill('strong');
  await over.getByLabel('Name').press('Enter');
  await over.getByLabel('Opacity', { exact: true }).first().fill('40');
  await over.getByLabel('Opacity', { exact: true }).first().press('Enter');
  await over.getByRole('button', { name: 'oval', exact: true }).click();
  await expect(over).toContainText('inside 1 oval: 40 %');
  await expect(async () => {
    const [first, second] = (await fork()).branches;
    expect(first).toMatchObject({ name: 'first way', opacity: 100 });
    expect(second).toMatchObject({ name: 'strong', opacity: 40, mask: { parts: [{ shape: { kind: 'oval' } }] } });
  }).toPass();
  await expect(page.getByTestId('mask-tint')).toBeVisible();
  await settled(page);
  await accessible(page);
  // Alone, it covers everything; the plan stays as it is.
  await over.getByRole('button', { name: 'solo' }).click();
  await expect(page.getByTestId('stage').getByText('strong alone')).toBeVisible();
  expect((await fork()).branches[1].opacity).toBe(40);
  await over.getByRole('button', { name: 'all', exact: true }).click();
  // A treatment in the branch, and the branch lowered, raised, switched.
  await over.getByRole('button', { name: 'Add a treatment to strong' }).click();
  await page.getByRole('menuitem', { name: /^Regrain/ }).click();
  await expect(over.getByTestId('step-regrain')).toBeVisible();
  await over.getByRole('button', { name: 'strong, branch' }).click();
  await over.getByRole('button', { name: 'Lower' }).click();
  await expect(branches.first()).toContainText('strong');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(branches.last()).toContainText('strong');
  // What would not fit over the other is said where it stands.
  await branches.last().getByRole('button', { name: 'Add a treatment to strong' }).click();
  await page.getByRole('menuitem', { name: /^Upscale/ }).click();
  await page.getByTestId('fork').getByRole('button', { name: /^Fork/ }).first().click();
  await expect(page.getByTestId('fork')).toContainText('what changes the size comes before or after the fork');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('fork')).not.toContainText('what changes the size');
  // Out of the branch by keyboard: the fork moves as one.
  await page.getByTestId('fork').getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByTestId('fork')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(branches).toHaveCount(2);
});

test('a mask is painted, erased, moved and combined, and stays on its place when the picture is cropped', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Painted', demoMedia('Slide 14, the harbour.jpg'));
  const grainOf = async () =>
    (await server.api<Required<ItemAnswer>>(`items/${items[0].id}`)).plan.plan.steps.find(
      (s) => 'treatment' in s && s.treatment === 'grain',
    ) as { mask?: { parts: { shape: { document?: string; x?: number } }[] } };
  await page.goto(`${server.url}/items/${items[0].id}`);
  await settled(page);
  const step = page.getByTestId('step-grain');
  await step.getByRole('button', { name: /^Grain/ }).click();
  if (await step.getByRole('button', { name: 'Switch on' }).isVisible()) await step.getByRole('button', { name: 'Switch on' }).click();
  await step.getByRole('button', { name: 'paint…' }).click();
  const layer = page.getByTestId('paint-layer');
  await expect(layer).toBeVisible();
  await expect(async () => expect((await grainOf()).mask?.parts[0].shape.document).toBeDefined()).toPass({ timeout: 30_000 });
  const box = await layer.boundingBox();
  if (!box) throw new Error('no layer');
  const stroke = async (dx: number): Promise<void> => {
    const before = (await grainOf()).mask?.parts[0].shape.document;
    await page.mouse.move(box.x + box.width / 2 + dx, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + dx + 60, box.y + box.height / 2 + 30, { steps: 5 });
    await page.mouse.up();
    await expect(async () => expect((await grainOf()).mask?.parts[0].shape.document).not.toBe(before)).toPass({ timeout: 30_000 });
  };
  await stroke(-80);
  await stroke(20);
  await step.getByRole('button', { name: 'erase' }).click();
  await stroke(20);
  // A stroke is one step of undo.
  const erased = (await grainOf()).mask?.parts[0].shape.document;
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(async () => expect((await grainOf()).mask?.parts[0].shape.document).not.toBe(erased)).toPass({ timeout: 30_000 });
  await step.getByRole('button', { name: 'done' }).click();
  await expect(layer).toHaveCount(0);
  const row = step.getByRole('button', { name: /^1: painted/ });
  await row.focus();
  await row.press('ArrowRight');
  await expect(async () => expect((await grainOf()).mask?.parts[0].shape.x).toBeGreaterThan(0)).toPass();
  await step.getByLabel('How the next part is added').selectOption('subtract');
  await step.getByRole('button', { name: 'straight gradient' }).click();
  await expect(step.getByLabel('What part 2 does to those before it')).toHaveValue('subtract');
  // The outline stays on its place in the picture when a crop above it takes a part of that away.
  await step.getByRole('button', { name: 'box', exact: true }).click();
  const outline = page.getByTestId('area-2');
  await settled(page);
  const where = async (): Promise<number> => {
    const [area, stage] = [await outline.boundingBox(), await page.getByTestId('stage').boundingBox()];
    if (!area || !stage) throw new Error('no outline');
    return area.width;
  };
  const wide = await where();
  await page.getByTestId('step-crop').getByRole('button', { name: /^Crop/ }).click();
  const crop = page.getByTestId('step-crop');
  const on = crop.getByRole('button', { name: 'Switch on' });
  if (await on.isVisible()) await on.click();
  await crop.getByLabel('Left', { exact: true }).fill('300');
  await crop.getByLabel('Left', { exact: true }).press('Enter');
  await step.getByRole('button', { name: /^Grain/ }).click();
  await settled(page);
  // Cropped, the same part of the picture is seen larger or as large, never at another place of it.
  await expect(async () => expect(await where()).toBeGreaterThanOrEqual(wide - 1)).toPass();
  await step.getByLabel('Shown as').selectOption('mask');
  await settled(page);
  await accessible(page);
});

test('an item is split at a frame; both halves have their frames, and sound goes with them', async ({ page, server }) => {
  const { id, items } = await collectionWith(server, 'Split', demoMedia('Regatta disc, title 1.mkv'));
  await page.goto(`${server.url}/items/${items[0].id}`);
  await settled(page);
  const { frames } = items[0].facts.stream;
  await page.getByLabel('frame', { exact: true }).fill('200');
  await page.getByLabel('frame', { exact: true }).press('Enter');
  await page.getByRole('button', { name: 'Split…' }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Split before frame/ })
    .click();
  await expect(page.getByText('Regatta disc, title 1, frames 100 to', { exact: false }).first()).toBeVisible();
  const { items: halves } = await server.api<{ items: typeof items }>(`collections/${id}`);
  expect(halves.map((i) => i.facts.stream.frames)).toEqual([100, frames - 100]);
  expect(new Set(halves.map((i) => i.source.sha256)).size).toBe(1);
  await expect(async () => {
    const { items: now } = await server.api<{ items: typeof items }>(`collections/${id}`);
    expect(now.map((i) => i.state)).toEqual(['ready', 'ready']);
  }).toPass({ timeout: 60_000 });
});
