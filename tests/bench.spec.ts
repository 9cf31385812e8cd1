import type { Page } from '@playwright/test';
import type { Plan } from '../src/shared/plan';
import { accessible, collectionWith, demoMedia, expect, settled, test } from './fixtures';
import type { ItemAnswer } from '../src/archive';

let disc = '',
  print = '';
let measured: Plan;

test.beforeAll(async ({ server }) => {
  const { items } = await collectionWith(server, 'Pellow Quay', demoMedia('Regatta disc, title 1.mkv'), demoMedia('Two on the quay.jpg'));
  disc = items.find((i) => i.kind === 'moving')?.id ?? '';
  print = items.find((i) => i.kind === 'still')?.id ?? '';
  measured = (await server.api<ItemAnswer>(`items/${disc}`)).plan?.plan as Plan;
});

test.beforeEach(async ({ page, server }) => {
  await server.api(`items/${disc}/plan`, { plan: measured, change: 'as measured' }, 'PUT');
  await page.goto(`${server.url}/items/${disc}`);
  await settled(page);
});

/** What the canvas shows, as one figure that changes with it. */
function shown(page: Page): Promise<string> {
  return page.getByRole('img', { name: /^Frame/ }).evaluate(async (canvas: HTMLCanvasElement) => {
    const bytes = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height).data ?? new Uint8ClampedArray();
    const digest = await crypto.subtle.digest('SHA-256', bytes);
    return [...new Uint8Array(digest).slice(0, 8)].join('.');
  });
}

const patches = (page: Page) => page.locator('ol[aria-label=Ladder] canvas[data-filled=true]');

test('condition, facts and the proposed plan are there, with a patch on every rung', async ({ page }) => {
  await expect(page.getByText('interlaced, top field first')).toBeVisible();
  await expect(patches(page)).toHaveCount(11);
  await expect(page.getByTestId('step-deinterlace')).toContainText('double rate, top field first');
  await expect(page.getByTestId('step-upscale')).toContainText('1440 × 1080');
  await accessible(page);
  await page.getByRole('tab', { name: 'Facts' }).click();
  const facts = page.getByRole('tabpanel');
  for (const text of ['30000/1001 fr/s', '210 frames', 'pixel 8:9, shown 4:3', 'mpeg2video', 'eng', 'fre', 'dvd_subtitle, as pictures'])
    await expect(facts).toContainText(text);
  await expect(facts).toContainText(/[0-9a-f]{64}/);
  await accessible(page);
});

test('a setting changes the picture, is marked, goes back to measured, and can be undone', async ({ page }) => {
  const before = await shown(page);
  const step = page.getByTestId('step-grain');
  await step.getByRole('button', { name: /^Grain/ }).click();
  await step.getByLabel('Luma', { exact: true }).fill('25');
  await step.getByLabel('Luma', { exact: true }).press('Enter');
  await expect(step).toContainText('luma 25.0');
  await expect(step).toContainText('changed');
  await settled(page);
  await expect.poll(() => shown(page)).not.toBe(before);
  await expect(page.getByTestId('plan-version')).toHaveText(/version [2-9]/);
  await step.getByRole('button', { name: 'Reset to measured' }).click();
  await expect(step).toContainText('as measured');
  await settled(page);
  await expect.poll(() => shown(page)).toBe(before);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(step).toContainText('luma 25.0');
  await page.keyboard.press('Control+z');
  await expect(step).toContainText('as measured');
  await page.keyboard.press('Control+Shift+z');
  await expect(step).toContainText('luma 25.0');
  await page.keyboard.press('Control+z');
  await expect(step).toContainText('as measured');
  // The plan is kept.
  await page.reload();
  await settled(page);
  await expect.poll(() => shown(page)).toBe(before);
});

test('a slider is moved with the keyboard', async ({ page }) => {
  const step = page.getByTestId('step-grain');
  await step.getByRole('button', { name: /^Grain/ }).click();
  const keep = step.getByRole('slider', { name: 'Keep, slider' });
  await keep.focus();
  await keep.press('ArrowRight');
  await expect(step.getByLabel('Keep', { exact: true })).toHaveValue('11');
  await page.keyboard.press('Control+z');
  await expect(step.getByLabel('Keep', { exact: true })).toHaveValue('10');
});

test('steps are switched, moved by keyboard with a warning where it harms, added and taken out', async ({ page }) => {
  const names = () => page.locator('[data-testid^=step-]').evaluateAll((list) => list.map((e) => (e as HTMLElement).dataset.testid));
  const start = await names();
  const grain = page.getByTestId('step-grain');
  await grain.getByRole('button', { name: /^Grain/ }).click();
  await grain.getByRole('button', { name: 'Switch off' }).click();
  await expect(grain.getByRole('button', { name: 'Switch on' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await grain.getByRole('button', { name: /^Grain/ }).click();
  const handle = page.getByRole('button', { name: 'Move Grain' });
  await handle.focus();
  await page.keyboard.press('Space');
  for (const place of [4, 3]) {
    await expect(page.getByText(`Grain is held at place ${place + 1} of 9.`)).toBeAttached();
    await page.keyboard.press('ArrowUp');
  }
  await expect(page.getByText('Grain is held at place 3 of 9.')).toBeAttached();
  await page.keyboard.press('Space');
  await expect.poll(names).toEqual([...start.slice(0, 2), 'step-grain', 'step-deinterlace', 'step-compression', ...start.slice(5)]);
  await expect(grain).toContainText('still interlaced here');
  await page.keyboard.press('Control+z');
  await expect.poll(names).toEqual(start);
  await page.getByRole('button', { name: '+ Add a treatment' }).click();
  await page.getByRole('menuitem', { name: /^Grain/ }).click();
  // It comes in its natural place.
  const after = start.indexOf('step-grain') + 1;
  await expect.poll(names).toEqual(start.toSpliced(after, 0, 'step-grain'));
  await page.getByTestId('step-grain').last().getByRole('button', { name: 'Remove', exact: true }).click();
  await expect.poll(names).toEqual(start);
});

test('a plan that cannot run says which step and why, and nothing is lost', async ({ page }) => {
  const crop = page.getByTestId('step-crop');
  await crop.getByRole('button', { name: /^Crop/ }).click();
  await crop.getByLabel('Left', { exact: true }).fill('9999');
  await crop.getByLabel('Left', { exact: true }).press('Enter');
  await crop.getByRole('button', { name: 'Switch on' }).click();
  await expect(crop).toContainText('at least 16 x 16 must stay');
  await expect(page.getByRole('alert').filter({ hasText: 'Crop leaves' })).toBeVisible();
  await page.getByRole('button', { name: 'Add to queue' }).click();
  await expect(page.getByRole('dialog')).toContainText('The plan cannot run');
  await page.keyboard.press('Escape');
  for (let n = 0; n < 2; n++) await page.keyboard.press('Control+z');
  await expect(page.getByRole('alert').filter({ hasText: 'Crop leaves' })).toBeHidden();
});

test('source and result are compared by split line, side by side and by a held key, under one view', async ({ page }) => {
  await page.getByRole('radio', { name: 'Single' }).click();
  const result = await shown(page);
  await page.keyboard.down('s');
  const source = await shown(page);
  await page.keyboard.up('s');
  expect(source).not.toBe(result);
  await expect.poll(() => shown(page)).toBe(result);
  await page.getByRole('radio', { name: 'Split' }).click();
  const line = page.getByRole('slider', { name: 'Split line' });
  const split = await shown(page);
  await line.focus();
  await line.press('Shift+ArrowRight');
  await expect(line).toHaveAttribute('aria-valuenow', '55');
  expect(await shown(page)).not.toBe(split);
  await page.getByRole('radio', { name: 'Pair' }).click();
  for (const key of ['1', '2']) {
    await page.keyboard.press(key);
    await settled(page);
    await expect(page.getByTestId('viewer-state')).toContainText(`${key}00 %`);
  }
  // The wheel zooms at the pointer, a drag moves both pictures.
  const stage = page.getByTestId('stage');
  const box = await stage.boundingBox();
  if (!box) throw new Error('no stage');
  await page.mouse.move(box.x + 60, box.y + 90);
  await page.mouse.wheel(0, 240);
  await expect(page.getByTestId('viewer-state')).toContainText(/1[34]\d %/);
  await settled(page);
  const here = await shown(page);
  await page.mouse.down();
  await page.mouse.move(box.x + 20, box.y + 60, { steps: 3 });
  await page.mouse.up();
  await settled(page);
  expect(await shown(page)).not.toBe(here);
  await page.keyboard.press('0');
  await expect(page.getByTestId('viewer-state')).toContainText('fitted');
});

/** Mean lightness of the canvas, 0 to 255. */
const lightness = (page: Page): Promise<number> =>
  page.getByRole('img', { name: /^Frame/ }).evaluate((canvas: HTMLCanvasElement) => {
    const { data } = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height) ?? { data: [0] };
    let sum = 0;
    for (let i = 0; i < data.length; i += 4) sum += data[i + 1];
    return (4 * sum) / data.length;
  });

test('the split line turns; difference, flicker and the greys round the picture', async ({ page }) => {
  const line = page.getByRole('slider', { name: 'Split line' });
  await expect(line).toHaveAttribute('aria-orientation', 'horizontal');
  const upright = await shown(page);
  await page.getByRole('button', { name: /^Turn the split line/ }).click();
  await expect(line).toHaveAttribute('aria-orientation', 'vertical');
  await expect.poll(() => shown(page)).not.toBe(upright);
  await line.focus();
  await line.press('ArrowDown');
  await expect(line).toHaveAttribute('aria-valuenow', '51');

  const picture = await lightness(page);
  await page.getByRole('radio', { name: 'Difference' }).click();
  await expect.poll(() => lightness(page)).toBeLessThan(picture / 2);
  const weak = await lightness(page);
  await page.getByLabel('shown').selectOption('32');
  await expect.poll(() => lightness(page)).toBeGreaterThan(weak + 5);

  await page.getByRole('radio', { name: 'Flicker' }).click();
  await page.getByLabel('changes').selectOption('4');
  const names = new Set<string>();
  await expect(async () => {
    names.add((await page.getByTestId('stage').textContent()) ?? '');
    expect([...names].filter((n) => /source|result/.test(n)).length).toBeGreaterThan(1);
  }).toPass({ intervals: [60] });

  const surround = () => page.getByTestId('stage').evaluate((e) => getComputedStyle(e).backgroundColor);
  const greys = new Set<string>();
  for (let n = 0; n < 3; n++) {
    greys.add(await surround());
    await page.keyboard.press('g');
  }
  expect(greys.size).toBe(3);
  for (const grey of greys) expect(new Set(grey.match(/\d+/g)).size).toBe(1);
  await page.getByRole('button', { name: 'Change between light and dark' }).click();
  await accessible(page);
});

test('a pinch zooms about its middle, on a trackpad and with two fingers', async ({ page }) => {
  const state = page.getByTestId('viewer-state');
  const zoom = async (): Promise<number> => Number.parseInt((await state.getByText(/^\d+ %$/).textContent()) ?? '', 10);
  await page.keyboard.press('1');
  const stage = await page.getByTestId('stage').boundingBox();
  if (!stage) throw new Error('no stage');
  const [x, y] = [stage.x + stage.width / 3, stage.y + stage.height / 3];
  // A trackpad's pinch comes as a wheel with Control.
  await page.mouse.move(x, y);
  await page.keyboard.down('Control');
  await page.mouse.wheel(0, -40);
  await page.keyboard.up('Control');
  await expect.poll(zoom).toBeGreaterThan(130);
  const before = await zoom();
  const touch = await page.context().newCDPSession(page);
  await touch.send('Emulation.setTouchEmulationEnabled', { enabled: true, maxTouchPoints: 2 });
  const fingers = (apart: number) => [x - apart, x + apart].map((at, id) => ({ x: at, y, id }));
  await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: fingers(40) });
  for (const apart of [55, 70, 80]) await touch.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: fingers(apart) });
  await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await expect.poll(zoom).toBeGreaterThan(1.7 * before);
  expect(await zoom()).toBeLessThan(2.3 * before);
});

test('zoomed in, pixels are exact and the navigator shows and moves the part in view', async ({ page }) => {
  await page.getByRole('radio', { name: 'Single' }).click();
  await expect(page.getByTestId('navigator')).toHaveCount(0);
  await page.keyboard.press('4');
  await settled(page);
  // Four screen pixels each way are one of the picture's: blocks of one colour.
  const blocks = await page.getByRole('img', { name: /^Frame/ }).evaluate((canvas: HTMLCanvasElement) => {
    const { width, data } = canvas.getContext('2d')?.getImageData(0, 0, 200, 4) ?? { width: 0, data: [] };
    let changes = 0;
    for (let x = 1; x < width; x++) if ([0, 1, 2].some((c) => data[4 * x + c] !== data[4 * (x - 1) + c])) changes++;
    return changes;
  });
  expect(blocks).toBeLessThanOrEqual(51);
  const navigator = page.getByTestId('navigator');
  const before = await shown(page);
  const box = await navigator.boundingBox();
  if (!box) throw new Error('no navigator');
  await page.mouse.click(box.x + 0.8 * box.width, box.y + 0.8 * box.height);
  await settled(page);
  await expect.poll(() => shown(page)).not.toBe(before);
  await navigator.press('Shift+ArrowLeft');
  await settled(page);
  await expect(navigator).toHaveAttribute('aria-label', /^Part in view: \d+ by \d+ %/);
});

test('the loupe moves and the ladder follows; a rung can be looked at by itself', async ({ page }) => {
  const first = () =>
    page
      .locator('ol[aria-label=Ladder] canvas')
      .first()
      .evaluate((c: HTMLCanvasElement) => c.toDataURL());
  await expect(patches(page)).toHaveCount(11);
  const before = await first();
  const loupe = page.getByRole('group', { name: /^Loupe/ });
  await loupe.focus();
  for (let n = 0; n < 4; n++) await loupe.press('Shift+ArrowDown');
  await expect.poll(first).not.toBe(before);
  const whole = await shown(page);
  await page.getByRole('button', { name: 'Look at the picture after Deinterlace' }).click();
  await expect(page.getByText('after Deinterlace').first()).toBeVisible();
  await settled(page);
  await expect.poll(() => shown(page)).not.toBe(whole);
});

test('the evidence map shows what was added to the source', async ({ page }) => {
  const before = await shown(page);
  const state = page.getByTestId('viewer-state');
  await page.keyboard.press('e');
  await expect(state).toContainText('invented 0.0 %');
  await expect(page.getByRole('button', { name: 'Evidence' })).toHaveAttribute('aria-pressed', 'true');
  await expect.poll(() => shown(page)).not.toBe(before);
  await accessible(page);
  const focus = page.getByTestId('step-focus');
  await focus.getByRole('button', { name: /^Focus/ }).click();
  await focus.getByRole('button', { name: 'Switch on' }).click();
  await expect(state).toContainText(/invented (0\.[1-9]|[1-9])/);
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Evidence' }).click();
  await expect(state).not.toContainText('invented');
  await settled(page);
  await expect.poll(() => shown(page)).toBe(before);
});

test('frames are stepped, a range is set, and a stretch is proofed and played', async ({ page }) => {
  const frame = page.getByLabel('frame', { exact: true });
  await page.keyboard.press('Home');
  await expect(frame).toHaveValue('0');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(frame).toHaveValue('2');
  await expect(page.getByTestId('timecode')).toHaveText('00:00:00;02');
  await page.keyboard.press('i');
  await page.keyboard.press('Shift+ArrowRight');
  await expect(frame).toHaveValue('62');
  await frame.fill('7');
  await frame.press('Enter');
  await frame.blur();
  await page.keyboard.press('o');
  await expect(page.getByTestId('range')).toBeVisible();
  await page.keyboard.press('p');
  await expect(page.getByTestId('stretch')).toHaveText('6 proofed');
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible();
  // It goes round and round inside the range.
  const seen = new Set<string>();
  await expect(async () => {
    seen.add(await frame.inputValue());
    expect(seen.size).toBeGreaterThan(3);
  }).toPass({ intervals: [30] });
  for (const n of seen) expect(Number(n)).toBeGreaterThanOrEqual(2);
  for (const n of seen) expect(Number(n)).toBeLessThanOrEqual(7);
  await page.keyboard.press('k');
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
});

test('a print has no running time, and its own plan', async ({ page, server }) => {
  await page.goto(`${server.url}/items/${print}`);
  await settled(page);
  await expect(page.getByRole('region', { name: 'Running time' })).toHaveCount(0);
  await expect(page.getByTestId('step-deinterlace')).toHaveCount(0);
  await expect(page.getByTestId('step-upscale')).toContainText('3192 × 2442');
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Fit the picture');
  await expect(page.getByText('zoom at the pointer')).toBeInViewport();
  await accessible(page);
});

test('panels fold away and the layout is remembered', async ({ page }) => {
  const ladder = page.getByRole('region', { name: 'Plan' });
  const width = async (): Promise<number> => (await ladder.boundingBox())?.width ?? 0;
  const before = await width();
  const edge = page.getByRole('separator', { name: 'Width of the plan' });
  await edge.focus();
  for (let n = 0; n < 2; n++) await edge.press('ArrowRight');
  await expect.poll(width).toBeGreaterThan(before + 10);
  const wide = await width();
  await page.reload();
  await settled(page);
  await expect.poll(width).toBeCloseTo(wide, -1);
});
