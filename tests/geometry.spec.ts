import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import type { ItemAnswer } from '../src/archive';
import type { PlainPlan, PlanStep } from '../src/shared/plan';
import { cornersOf } from '../src/shared/settings';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { TestServer } from './server';

const folder = mkdtempSync(path.join(tmpdir(), 'wairetic-geometry-'));

async function stepOf(server: TestServer, item: string, treatment: string): Promise<PlanStep | undefined> {
  const { plan } = await server.api<Required<ItemAnswer>>(`items/${item}`);
  return (plan.plan as PlainPlan).steps.find((s) => s.treatment === treatment);
}

/** A scan of sheets before dark ground, each turned by some degrees. */
async function scan(name: string, sheets: { left: number; top: number; angle: number }[]): Promise<string> {
  const ground = { create: { width: 1200, height: 900, channels: 3 as const, background: '#2a2d33' } };
  const layers = await Promise.all(
    sheets.map(async ({ left, top, angle }, n) => {
      const sheet = `<svg xmlns="http://www.w3.org/2000/svg" width="420" height="280"><rect width="420" height="280" fill="#f1ead8"/>
        <rect x="20" y="20" width="380" height="240" fill="hsl(${90 * n} 30% 55%)"/><circle cx="${120 + 60 * n}" cy="140" r="70" fill="#333"/></svg>`;
      const input = await sharp(Buffer.from(sheet))
        .rotate(angle, { background: { r: 0, g: 0, b: 0, alpha: 0 } })
        .png()
        .toBuffer();
      return { input, left, top };
    }),
  );
  const file = path.join(folder, name);
  await sharp(ground).composite(layers).tiff().toFile(file);
  return file;
}

test('a print at a slant is found, and its corners are dragged on the picture', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'At a slant', await scan('one.tif', [{ left: 300, top: 200, angle: 6 }]));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await expect(page.getByText('one, within an even border')).toBeVisible();
  const step = page.getByTestId('step-perspective');
  await step.getByRole('button', { name: /^Perspective/ }).click();
  await step.getByRole('button', { name: 'Switch on' }).click();
  await settled(page);
  // The sheet is 420 by 280 pixels.
  await expect(step).toContainText(/4[12]\d × 2[78]\d, 1\.5\d? : 1|4[12]\d × 2[78]\d, 1\.49 : 1/);
  const before = cornersOf(String((await stepOf(server, id, 'perspective'))?.settings.corners));
  await step.getByRole('button', { name: 'Corners' }).click();
  // The picture is seen as the step reads it.
  await expect(page.getByText('1200 × 900', { exact: true }).last()).toBeVisible();
  await settled(page);
  await accessible(page);
  const corner = await page.getByTestId('corner-0').boundingBox();
  if (!corner) throw new Error('no corner');
  await page.mouse.move(corner.x + corner.width / 2, corner.y + corner.height / 2);
  await page.mouse.down();
  await page.mouse.move(corner.x + corner.width / 2 - 30, corner.y + corner.height / 2 - 20, { steps: 4 });
  await page.mouse.up();
  await page.getByRole('button', { name: 'Take these corners' }).click();
  await expect(async () => {
    const after = cornersOf(String((await stepOf(server, id, 'perspective'))?.settings.corners));
    expect(after[0].x).toBeLessThan(before[0].x - 0.01);
    expect(after[2].x).toBeCloseTo(before[2].x, 4);
  }).toPass();
  // Another rung opened meanwhile, the plan is seen whole again.
  await step.getByRole('button', { name: 'Corners' }).click();
  await expect(page.getByTestId('corners-layer')).toBeVisible();
  await page.getByTestId('step-tone').getByRole('button', { name: /^Tone/ }).click();
  await expect(page.getByTestId('corners-layer')).toHaveCount(0);
  await expect(page.getByText('1200 × 900', { exact: true }).last()).toBeHidden();
});

test('several prints on one scan become items of their own', async ({ page, server }) => {
  const file = await scan('three.tif', [
    { left: 60, top: 60, angle: 3 },
    { left: 640, top: 80, angle: -4 },
    { left: 300, top: 500, angle: 8 },
  ]);
  const { id: collection, items } = await collectionWith(server, 'Three prints', file);
  await page.goto(`${server.url}/items/${items[0].id}`);
  await settled(page);
  await expect(page.getByText('3 on one scan')).toBeVisible();
  await page.getByRole('button', { name: 'Make an item of each' }).click();
  await page.waitForURL(`**/collections/${collection}`);
  const all = await server.api<{ items: { id: string; name: string; state: string }[] }>(`collections/${collection}`);
  const prints = all.items.filter(({ name }) => /, print \d$/.test(name));
  expect(prints.map(({ state }) => state)).toEqual(['ready', 'ready', 'ready']);
  for (const { id } of prints) {
    expect((await stepOf(server, id, 'perspective'))?.on).toBe(true);
    const thumbnail = await sharp(Buffer.from(await (await server.fetch(`/api/items/${id}/thumbnail`)).arrayBuffer())).metadata();
    // The sheets are 420 by 280.
    expect(thumbnail.width / thumbnail.height).toBeCloseTo(1.5, 1);
  }
  await page.goto(`${server.url}/items/${prints[1].id}`);
  await settled(page);
  await expect(page.getByRole('button', { name: 'Make an item of each' })).toHaveCount(0);
  // Asked once more, it says that they are there.
  for (const id of [prints[0].id, items[0].id]) await expect(server.api(`items/${id}/prints`, {})).rejects.toThrow('already');
});

test('a line along what should be level turns the picture', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Level', demoMedia('Portrait of a child.tif'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  await page.getByRole('button', { name: '+ Add a treatment' }).first().click();
  await page.getByRole('menuitem', { name: /^Turn/ }).click();
  const step = page.getByTestId('step-turn');
  await step.getByRole('button', { name: 'draw what is level' }).click();
  const layer = await page.getByTestId('line-layer').boundingBox();
  if (!layer) throw new Error('no layer');
  await page.mouse.move(layer.x + 200, layer.y + 200);
  await page.mouse.down();
  await page.mouse.move(layer.x + 400, layer.y + 210, { steps: 3 });
  await page.mouse.up();
  // Ten down on two hundred: 2.86 degrees clockwise, to be turned back.
  await expect(async () => expect((await stepOf(server, id, 'turn'))?.settings.angle).toBeCloseTo(-2.85, 1)).toPass();
  await step
    .getByRole('radio', { name: 'right', exact: true })
    .click()
    .catch(() => step.getByLabel('Quarter turns').selectOption('90'));
  await expect(async () => expect((await stepOf(server, id, 'turn'))?.settings.quarters).toBe('90')).toPass();
  await settled(page);
});
