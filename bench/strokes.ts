import path from 'node:path';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import type { PaintedAnswer } from '../src/archive';
import { randomStream } from '../src/core/picture/random';
import type { Stroke } from '../src/shared/masks/brush';
import type { PaintRequest } from '../src/shared/requests';
import type { TestServer } from '../tests/server';
import { longFrames, settled, takenIn, untilSeen } from './page';

/** Strokes there are before it is looked at, and how many of them make one version of the plan: as many versions as the page is told. */
const STROKES = 5000,
  STROKES_A_VERSION = 10;
/** Strokes drawn by the pointer. */
const DRAWN = 15;
const SCAN = { width: 6000, height: 4000 };

export interface Painting {
  before: number;
  opened: Record<string, number>;
  /** Milliseconds from the end of a stroke until the plan with it is kept, and until its first part is seen. */
  kept: number[];
  seen: number[];
  frames: { share: number; frames: number };
}

/** A plan whose mask was painted by thousands of strokes: opened, and painted on. */
export async function painting(page: Page, server: TestServer, work: string): Promise<Painting> {
  const file = path.join(work, 'painted on.jpg');
  const random = randomStream(5);
  const small = { width: 120, height: 80 };
  await sharp(Buffer.from(Uint8Array.from({ length: small.width * small.height * 3 }, () => 255 * random())), {
    raw: { ...small, channels: 3 },
  })
    .resize(SCAN.width, SCAN.height, { kernel: 'cubic' })
    .jpeg({ quality: 85 })
    .toFile(file);
  const { id, items } = await takenIn(server, { name: 'Painted on' }, file);
  const [item] = items;
  await paintPlan(server, item.id, random);
  await page.goto(`${server.url}/collections/${id}`);
  const link = page.getByTestId('item').first().getByRole('link').first();
  await link.hover();
  const opened = await untilSeen(page, () => link.click(), { source: 'stage.source !== undefined', first: 'bar.first !== undefined' });
  await settled(page);
  await page
    .getByTestId('step-regrain')
    .getByRole('button', { name: /^Regrain/ })
    .click();
  await page.getByRole('button', { name: 'paint', exact: true }).click();
  const box = await page.getByTestId('stage').boundingBox();
  if (!box) throw new Error('no stage');
  const kept: number[] = [],
    seen: number[] = [];
  const frames = await longFrames(page, async () => {
    for (let n = 0; n < DRAWN; n++) {
      const first = await page.getByTestId('viewer-state').getAttribute('data-first');
      const [x, y] = [box.x + box.width * (0.1 + 0.3 * random()), box.y + box.height * (0.2 + 0.6 * random())];
      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x + 60, y + 20, { steps: 8 });
      const saved = page.waitForResponse((r) => r.url().endsWith('/plan') && r.request().method() === 'PUT');
      const start = performance.now();
      await page.mouse.up();
      await saved;
      kept.push(performance.now() - start);
      await page.waitForFunction((old) => document.querySelector<HTMLElement>('[data-testid=viewer-state]')?.dataset.first !== old, first);
      seen.push(Number(await page.getByTestId('viewer-state').getAttribute('data-first')));
    }
  });
  return { before: STROKES, opened, kept, seen, frames };
}

/** Paints stroke after stroke, and keeps the plan after each. */
async function paintPlan(server: TestServer, id: string, random: () => number): Promise<void> {
  let document: string | undefined;
  for (let n = 0; n < STROKES; n += STROKES_A_VERSION) {
    const request: PaintRequest = { base: document, strokes: Array.from({ length: STROKES_A_VERSION }, () => randomStroke(random)) };
    document = (await server.api<PaintedAnswer>(`items/${id}/painted`, request)).document;
    const shape = { kind: 'painted', document, x: 0, y: 0 };
    const mask = { parts: [{ combine: 'add', shape }], feather: 0, opacity: 100, inverse: false };
    const step = { id: 'painted', treatment: 'regrain', on: true, settings: {}, mask };
    await server.api(`items/${id}/plan`, { plan: { format: 'wairetic-plan', version: 2, steps: [step] }, change: 'strokes' }, 'PUT');
  }
}

function randomStroke(random: () => number): Stroke {
  let [x, y] = [random(), random()];
  const points = Array.from({ length: 24 }, () => ({
    x: (x += 0.006 * (random() - 0.5)),
    y: (y += 0.006 * (random() - 0.5)),
    pressure: 1,
  }));
  return { points, size: 0.01, softness: 0.5, flow: 1, mode: 'add' };
}
