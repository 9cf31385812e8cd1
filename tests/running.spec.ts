import type { PlainPlan } from '../src/shared/plan';
import type { TracesAnswer } from '../src/archive/types';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { ItemAnswer } from '../src/archive';

let clip = '',
  film = '';

test.beforeAll(async ({ server }) => {
  const { items } = await collectionWith(server, 'Running time', demoMedia('Harbour, web clip.mp4'), demoMedia('Harbour cine film.mov'));
  clip = items.find((i) => i.name.includes('web'))?.id ?? '';
  film = items.find((i) => i.name.includes('cine'))?.id ?? '';
});

test('traces are measured in the background; the worst places are listed and gone to', async ({ page, server }) => {
  await page.goto(`${server.url}/items/${film}`);
  await settled(page);
  const traces = page.getByTestId('traces');
  await expect(traces).toHaveAttribute('data-done', 'true', { timeout: 120_000 });
  await expect(traces).toContainText(/grain\s*[\d.]+ σ/);
  const answer = await server.api<TracesAnswer>(`items/${film}/traces`);
  expect(answer.frames).toHaveLength(90);
  // The film flickers by some hundredths of its light.
  expect(Math.max(...answer.values.flicker.map(Number))).toBeGreaterThan(3);
  const worst = page.getByRole('region', { name: 'Worst places' });
  await worst.getByRole('combobox').selectOption('flicker');
  const place = answer.worst.flicker[0].frame;
  await worst.getByRole('listitem').first().getByRole('button').click();
  await expect(page.getByLabel('frame', { exact: true })).toHaveValue(String(place));
  await settled(page);
  await accessible(page);
  // A click on the traces goes there too.
  const box = await traces.boundingBox();
  if (!box) throw new Error('no traces');
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  await expect(page.getByLabel('frame', { exact: true })).toHaveValue('45');
});

test('the range has handles for pointer and keyboard, and a step can be held to it', async ({ page, server }) => {
  await page.goto(`${server.url}/items/${clip}`);
  await settled(page);
  const frame = page.getByLabel('frame', { exact: true });
  for (const [n, key] of [
    ['20', 'i'],
    ['50', 'o'],
  ]) {
    await frame.fill(n);
    await frame.press('Enter');
    await frame.blur();
    await page.keyboard.press(key);
  }
  const [start, end] = [page.getByRole('slider', { name: 'Start of the range' }), page.getByRole('slider', { name: 'End of the range' })];
  await expect(start).toHaveAttribute('aria-valuenow', '20');
  await end.focus();
  await end.press('ArrowLeft');
  await expect(end).toHaveAttribute('aria-valuenow', '49');
  const box = await start.boundingBox();
  const ruler = await page.getByRole('slider', { name: 'Time', exact: true }).boundingBox();
  if (!box || !ruler) throw new Error('no handle');
  await page.mouse.move(box.x + box.width / 2, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(ruler.x + (10.5 / 90) * ruler.width, box.y + 40, { steps: 3 });
  await page.mouse.up();
  await expect(start).toHaveAttribute('aria-valuenow', '10');

  const grain = page.getByTestId('step-grain');
  await grain.getByRole('button', { name: /^Grain/ }).click();
  await grain.getByRole('button', { name: 'only in the range' }).click();
  await expect(grain).toContainText('source frames 10 to 49');
  // Of this clip the report sees no grain: the step rests, and says so.
  await expect(grain.getByRole('button', { name: /^Grain/ })).toContainText('off');
  const kept = async (): Promise<PlainPlan> => (await server.api<Required<ItemAnswer>>(`items/${clip}`)).plan.plan as PlainPlan;
  await expect(async () =>
    expect((await kept()).steps.find((s) => s.treatment === 'grain')?.span).toEqual({ first: 10, last: 49 }),
  ).toPass();
  await page.keyboard.press('Escape');
  await grain.getByRole('button', { name: 'all the time' }).click();
  await expect(async () => expect((await kept()).steps.find((s) => s.treatment === 'grain')?.span).toBeUndefined()).toPass();
  // A copy of the step, right after it.
  await grain.getByRole('button', { name: 'Duplicate' }).click();
  await expect(page.getByTestId('step-grain')).toHaveCount(2);
  await expect(async () => {
    const names = (await kept()).steps.map((s) => s.treatment);
    expect(names.filter((n) => n === 'grain')).toHaveLength(2);
    expect(names.indexOf('grain')).toBe(names.lastIndexOf('grain') - 1);
  }).toPass();
});

test('the source plays at its own speed with its sound, and the bench goes on where it was stopped', async ({ page, server }) => {
  await page.goto(`${server.url}/items/${clip}`);
  await settled(page);
  const field = page.getByLabel('frame', { exact: true });
  await field.fill('10');
  await field.press('Enter');
  await settled(page);
  await page.getByRole('button', { name: /^Watch the source/ }).click();
  const film = page.getByTestId('source-film');
  const seconds = (): Promise<number> => film.evaluate((v: HTMLVideoElement) => v.currentTime);
  await expect(async () => expect(await seconds()).toBeGreaterThan(0.4)).toPass({ timeout: 20_000 });
  await page.getByRole('button', { name: 'Stop the source' }).click();
  await expect(film).toHaveCount(0);
  await settled(page);
  expect(Number(await field.inputValue())).toBeGreaterThan(15);
});
