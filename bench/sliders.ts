import path from 'node:path';
import type { Page } from '@playwright/test';
import type { Item } from '../src/archive';
import type { PlainPlan } from '../src/shared/plan';
import type { TestServer } from '../tests/server';
import { scanned, SCAN_MIDDLE } from './large';
import { median, onPage, settled, takenIn } from './page';
import type { Row } from './table';

const GROUP = 'Sliders, headless Chromium without a graphics card, 1280 x 800';
const DISC = path.resolve(import.meta.dirname, '../demo/media/Regatta disc, title 1.mkv');
/** Changes measured, after two that warm up. */
const CHANGES = 15,
  WARMING = 2;

/** Milliseconds from a change to its first part, and to all of the picture. */
interface Answers {
  first: number[];
  whole: number[];
}

/** What is changed again and again: a number of a step, by its label and by the heading it stands under, with only the steps named switched on. */
interface Slider {
  on: string[];
  step: string;
  setting: string;
  group: string;
}

async function changes(page: Page, server: TestServer, item: Item, { on, step, setting, group }: Slider): Promise<Answers> {
  const { plan } = await server.api<{ plan: { plan: PlainPlan } }>(`items/${item.id}`);
  const steps = plan.plan.steps.map((s) => ({ ...s, on: on.includes(s.treatment) }));
  await server.api(`items/${item.id}/plan`, { plan: { ...plan.plan, steps }, change: `${step} alone` }, 'PUT');
  await page.goto(`${server.url}/items/${item.id}`);
  await settled(page);
  const rung = page.getByTestId(`step-${step}`);
  await rung
    .getByRole('button', { name: new RegExp(`^${step}`, 'i') })
    .first()
    .click();
  if (item.kind === 'moving') await page.waitForSelector('[data-testid=traces][data-done=true]');
  const heading = rung.getByRole('button', { name: group });
  if (group !== '' && (await heading.getAttribute('aria-expanded')) === 'false') await heading.click();
  const field = rung.getByLabel(setting, { exact: true });
  const state = page.getByTestId('viewer-state');
  const out: Answers = { first: [], whole: [] };
  for (let n = 0; n < CHANGES + WARMING; n++) {
    const before = await state.getAttribute('data-proof');
    await field.press('ArrowUp');
    await page.waitForFunction((old) => document.querySelector<HTMLElement>('[data-testid=viewer-state]')?.dataset.proof !== old, before);
    if (n < WARMING) continue;
    out.first.push(Number(await state.getAttribute('data-first')));
    out.whole.push(Number(await state.getAttribute('data-proof')));
  }
  return out;
}

/** How soon a change of a setting is seen: of a film's grain, and of a print's light. */
export const sliders = (work: string): Promise<Row[]> =>
  onPage(90_000, async (page, server) => {
    const [film] = (await takenIn(server, { name: 'Film' }, DISC)).items;
    const grain = await changes(page, server, film, { on: ['deinterlace', 'grain'], step: 'grain', setting: 'Luma', group: '' });
    const file = path.join(work, 'print.tif');
    await scanned(file, SCAN_MIDDLE, 8);
    const [print] = (await takenIn(server, { name: 'Print' }, file)).items;
    const light = await changes(page, server, print, { on: ['tone'], step: 'tone', setting: 'Light', group: 'Too dark, too light' });
    const row = (what: string, values: number[], atMost: number): Row => ({
      ...{ group: GROUP, what, shown: `${median(values).toFixed(0)} ms`, value: median(values), atMost, timed: true },
    });
    return [
      row('grain changed: first part of the picture, median', grain.first, 100),
      row('grain changed: all of the picture, median', grain.whole, 400),
      row('light of a 12-megapixel scan changed: first part of the picture, median', light.first, 60),
      row('light of a 12-megapixel scan changed: all of the picture, median', light.whole, 250),
    ];
  });
