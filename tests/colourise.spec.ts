import path from 'node:path';
import sharp from 'sharp';
import type { Delivery, ItemAnswer, JobProgress, StrokesAnswer } from '../src/archive';
import type { StrokeMark } from '../src/shared/marks';
import type { PlainPlan, PlanStep } from '../src/shared/plan';
import { ffmpeg } from './media';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { TestServer } from './server';

const NAVY = '#26262f2f4242';

async function kept(server: TestServer, id: string): Promise<{ step?: PlanStep; strokes: StrokeMark[] }> {
  const { plan } = await server.api<Required<ItemAnswer>>(`items/${id}`);
  const step = (plan.plan as PlainPlan).steps.find((s) => s.treatment === 'colourise');
  return { step, strokes: step?.marks ? (await server.api<StrokesAnswer>(`items/${id}/strokes?list=${step.marks}`)).strokes : [] };
}

test('a print is coloured, put right by marks, and handed over with the monochrome beside it', async ({ page, server }) => {
  const { items } = await collectionWith(server, 'Coloured', demoMedia('Album leaf, 1928.jpg'));
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  const step = page.getByTestId('step-colourise');
  // A monochrome print has the step, and it is off: colours are added because somebody wants them.
  await expect(step).toContainText('for monochrome');
  await step.getByRole('button', { name: /^Colourise/ }).click();
  await step.getByRole('button', { name: 'Switch on' }).click();
  await expect(step).toContainText('colour added, likely', { timeout: 60_000 });
  await settled(page);
  await accessible(page);

  // Marked with a colour of a palette; it stays a mark of its own.
  await step.getByRole('button', { name: 'colour', exact: true }).click();
  await step.getByLabel('Palette').selectOption('uniforms');
  await step.getByRole('button', { name: 'navy serge' }).click();
  const stage = await page.getByTestId('stage').boundingBox();
  if (!stage) throw new Error('no stage');
  await page.mouse.click(stage.x + stage.width * 0.3, stage.y + stage.height * 0.5);
  await expect(async () => expect((await kept(server, id)).strokes).toMatchObject([{ use: 'colour', colour: NAVY, on: true }])).toPass();
  await accessible(page);
  await step.getByRole('button', { name: 'Copy it' }).click();
  await expect(async () => expect((await kept(server, id)).strokes).toHaveLength(2)).toPass();
  await step.getByRole('button', { name: 'none', exact: true }).click();
  await page.mouse.click(stage.x + stage.width * 0.7, stage.y + stage.height * 0.5);
  await expect(async () => expect((await kept(server, id)).strokes.at(2)).toMatchObject({ use: 'neutral' })).toPass();

  // A whole area in two clicks: its colour, and where it lies. It is taken back again.
  await step.getByRole('button', { name: 'area', exact: true }).click();
  await step.getByRole('button', { name: 'clear sky, high' }).click();
  await page.mouse.click(stage.x + stage.width * 0.62, stage.y + stage.height * 0.3);
  await expect(async () => expect((await kept(server, id)).strokes.at(3)).toMatchObject({ use: 'area' })).toPass();
  await page.getByRole('button', { name: 'Remove mark 4' }).click();
  await expect(async () => expect((await kept(server, id)).strokes).toHaveLength(3)).toPass();

  // Both of one colour are changed together.
  await page
    .getByRole('list', { name: 'Marks' })
    .getByRole('button', { name: /^2: colour/ })
    .click();
  await step.getByLabel('all 2 of this colour').check();
  await step.getByRole('button', { name: 'Palettes' }).click();
  await step.getByRole('group', { name: 'Colour of marks' }).last().getByLabel('Palette').selectOption('paints');
  await step.getByRole('button', { name: 'vermilion' }).click();
  await expect(async () => expect(new Set((await kept(server, id)).strokes.map(({ colour }) => colour)).size).toBe(2)).toPass();
  await settled(page);

  // Lips of all three faces in two steps: marks like all others, which do not spread.
  const parts = step.getByRole('group', { name: 'Which part' });
  await parts.getByRole('button', { name: 'lips' }).click();
  await step.getByLabel('lips: natural').click({ timeout: 120_000 });
  const tints = async (): Promise<StrokeMark[]> => (await kept(server, id)).strokes.filter(({ use }) => use === 'tint');
  await expect(async () => expect(await tints()).toHaveLength(6)).toPass();
  await parts.getByRole('button', { name: 'hair' }).click();
  await step.getByLabel('of', { exact: true }).selectOption({ index: 1 });
  await step.getByLabel('hair: brown').click();
  await expect(async () => expect((await kept(server, id)).strokes.filter(({ use }) => use === 'colour')).toHaveLength(3)).toPass();
  await accessible(page);
  await settled(page);

  await server.api('jobs', { itemId: id, original: false, access: false, stillMaster: 'png' });
  const state = async (): Promise<string | undefined> => (await server.api<JobProgress[]>('jobs')).find((j) => j.itemId === id)?.state;
  await expect.poll(state, { timeout: 180_000 }).toBe('done');
  const delivery = (await server.api<Delivery[]>('deliveries')).find((d) => d.itemId === id) as Delivery;
  const pixels = async (kind: string): Promise<Uint16Array> => {
    const name = delivery.files.find((f) => f.kind === kind)?.fileName ?? '';
    const file = path.join(server.home, 'deliveries', delivery.folder, name);
    const { buffer, byteOffset, length } = await sharp(file, { ignoreIcc: true })
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer();
    return new Uint16Array(buffer, byteOffset, length / 2);
  };
  const [master, plain] = await Promise.all([pixels('master'), pixels('monochrome')]);
  expect(master.length).toBe(plain.length);
  // Red, green and blue differ from those of the monochrome, their lightness does not.
  let coloured = 0,
    off = 0;
  for (let i = 0; i < master.length; i += 3) {
    const luma = (p: Uint16Array): number => 0.299 * p[i] + 0.587 * p[i + 1] + 0.114 * p[i + 2];
    if (Math.abs(luma(master) - luma(plain)) > 2 * 257) off++;
    coloured = Math.max(coloured, Math.abs(master[i] - master[i + 2] - (plain[i] - plain[i + 2])));
  }
  // But for few places where Upscale took a colour beyond what there is.
  expect((3 * off) / master.length).toBeLessThan(0.005);
  expect(coloured / 257).toBeGreaterThan(20);
});

test('a film is coloured by marks on one of its frames, which are carried to the others', async ({ page, server }, info) => {
  const clip = info.outputPath('quay.mkv');
  // Two shots of the harbour, and another scene between them.
  const part = (input: number, first: number, count: number, name: string): string =>
    `[${input}:v]trim=start_frame=${first}:end_frame=${first + count},scale=360:270,format=gray,setpts=N/18/TB[${name}]`;
  const parts = [part(0, 0, 8, 'a'), part(1, 0, 4, 'b'), part(0, 60, 8, 'c'), '[a][b][c]concat=n=3'].join(';');
  const inputs = ['Harbour cine film.mov', 'Regatta disc, title 1.mkv'].flatMap((name) => ['-i', demoMedia(name)]);
  ffmpeg(...inputs, '-filter_complex', parts, '-r', '18', '-frames:v', '20', '-c:v', 'ffv1', clip);
  const { items } = await collectionWith(server, 'Coloured film', clip);
  const [{ id }] = items;
  await page.goto(`${server.url}/items/${id}`);
  await settled(page);
  const step = page.getByTestId('step-colourise');
  await step.getByRole('button', { name: /^Colourise/ }).click();
  await step.getByRole('button', { name: 'Switch on' }).click();
  await expect(step).toContainText('colour added, likely', { timeout: 60_000 });
  await page.keyboard.press('Home');
  await settled(page);
  await step.getByRole('button', { name: 'colour', exact: true }).click();
  await step.getByLabel('Palette').selectOption('uniforms');
  await step.getByRole('button', { name: 'navy serge' }).click();
  const stage = await page.getByTestId('stage').boundingBox();
  if (!stage) throw new Error('no stage');
  await page.mouse.click(stage.x + stage.width * 0.3, stage.y + stage.height * 0.3);
  await expect(async () => expect((await kept(server, id)).strokes).toMatchObject([{ use: 'colour', frame: 0 }])).toPass();
  await expect(page.getByTestId('mark-0')).toBeVisible();

  // On another frame it is not seen, but its colour is; from the list one comes back to it, or has it here too.
  await page.getByLabel('frame', { exact: true }).fill('7');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect(page.getByTestId('mark-0')).toHaveCount(0);
  await step.getByRole('button', { name: 'Copy to frame 7' }).click();
  await expect(async () => expect((await kept(server, id)).strokes.at(1)).toMatchObject({ colour: NAVY, frame: 7 })).toPass();
  await page
    .getByRole('list', { name: 'Marks' })
    .getByRole('button', { name: /^1: colour.*frame 0/ })
    .click();
  await expect(page.getByLabel('frame', { exact: true })).toHaveValue('0');

  // What the mark is on is found in another shot, shown, and marked there.
  await step.getByRole('button', { name: 'Look in other shots' }).click();
  const others = step.getByRole('group', { name: 'The same in other shots' });
  await others.getByRole('button', { name: /^frame 12,/ }).click();
  await expect(page.getByLabel('frame', { exact: true })).toHaveValue('12');
  await others.getByRole('button', { name: 'Mark it on frame 12' }).click();
  await expect(async () => expect((await kept(server, id)).strokes.at(2)).toMatchObject({ colour: NAVY, frame: 12 })).toPass();
  await expect(others.getByRole('button', { name: /^frame 12,/ })).toHaveCount(0);
  await accessible(page);

  await server.api('jobs', { itemId: id, original: false, access: true });
  const state = async (): Promise<string | undefined> => (await server.api<JobProgress[]>('jobs')).find((j) => j.itemId === id)?.state;
  await expect.poll(state, { timeout: 180_000 }).toBe('done');
  const delivery = (await server.api<Delivery[]>('deliveries')).find((d) => d.itemId === id) as Delivery;
  expect(delivery.files.map(({ kind }) => kind)).toEqual(expect.arrayContaining(['master', 'access', 'monochrome']));
  const saturation = (kind: string): number => {
    const file = path.join(server.home, 'deliveries', delivery.folder, delivery.files.find((f) => f.kind === kind)?.fileName ?? '');
    const told = ffmpeg('-i', file, '-vf', 'signalstats,metadata=print:file=-:key=lavfi.signalstats.SATAVG', '-f', 'null', '-');
    const values = [...told.matchAll(/SATAVG=([\d.]+)/g)].map(([, value]) => Number(value));
    expect(values).toHaveLength(20);
    return Math.min(...values);
  };
  expect(saturation('master')).toBeGreaterThan(1);
  expect(saturation('monochrome')).toBeLessThan(0.5);
});
