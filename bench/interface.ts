import { mkdirSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import sharp from 'sharp';
import { randomStream } from '../src/core/picture/random';
import type { TestServer } from '../tests/server';
import { LONG_MS, longFrames, median, onPage, settled, takenIn, untilSeen } from './page';
import { painting } from './strokes';
import { longTape } from './tape';
import type { Row } from './table';

/** Figures of the interface in headless Chromium: how soon a change is seen, and how smoothly large things move. */

const GROUP = 'Interface, headless Chromium without a graphics card, 1280 x 800';
const DISC = path.resolve(import.meta.dirname, '../demo/media/Regatta disc, title 1.mkv');
const ITEMS = 2000;
const SCAN = { width: 11_600, height: 8_700 };
/** Items opened one after the other. */
const OPENED = 12;
/** Share of frames that may take longer than a frame may. */
const SHARE = 0.01;

/** Milliseconds from the click on an item to what is seen of it. */
interface Opening {
  kept: number;
  source: number;
  first: number;
}

/** Opens an item from the contact sheet: the kept picture, the source's frame, the first part of the result. */
async function opening(page: Page, server: TestServer): Promise<Opening[]> {
  const { id, items } = await takenIn(server, { name: 'Opening' }, path.dirname(DISC));
  const out: Opening[] = [];
  for (const item of items.filter((i) => i.state === 'ready').slice(0, OPENED)) {
    await page.goto(`${server.url}/collections/${id}`);
    const card = page.getByTestId('item').filter({ hasText: item.name }).first();
    await card.waitFor();
    const link = card.getByRole('link', { name: item.name });
    await link.hover();
    const seen = await untilSeen(page, () => link.click(), {
      kept: "stage.shown === 'true'",
      source: 'stage.source !== undefined',
      first: 'bar.first !== undefined',
    });
    out.push({ kept: seen.kept, source: seen.source, first: seen.first });
  }
  return out;
}

async function scrolling(page: Page, server: TestServer, work: string): Promise<{ share: number; frames: number }> {
  const folder = path.join(work, 'many');
  mkdirSync(folder);
  const random = randomStream(20);
  for (let n = 0; n < ITEMS; n++) {
    const colour = { r: 255 * random(), g: 255 * random(), b: 255 * random() };
    await sharp({ create: { width: 96, height: 72, channels: 3, background: colour } })
      .jpeg()
      .toFile(path.join(folder, `print ${String(n).padStart(4, '0')}.jpg`));
  }
  const { id } = await takenIn(server, { name: 'Many' }, folder);
  await page.goto(`${server.url}/collections/${id}`);
  await page.getByTestId('item').first().waitFor();
  await page.mouse.move(640, 500);
  return longFrames(page, async () => {
    for (let n = 0; n < 240; n++) {
      await page.mouse.wheel(0, 320);
      await page.waitForTimeout(16);
    }
  });
}

async function zooming(page: Page, server: TestServer, work: string): Promise<{ share: number; frames: number }> {
  const file = path.join(work, 'scan.jpg');
  const small = { width: SCAN.width / 50, height: SCAN.height / 50 };
  const random = randomStream(7);
  const pixels = Buffer.from(Uint8Array.from({ length: small.width * small.height * 3 }, () => 255 * random()));
  await sharp(pixels, { raw: { ...small, channels: 3 } })
    .resize(SCAN.width, SCAN.height, { kernel: 'cubic' })
    .jpeg({ quality: 80 })
    .toFile(file);
  const { items } = await takenIn(server, { name: 'Large' }, file);
  await page.goto(`${server.url}/items/${items[0].id}`);
  await page.getByTestId('stage').waitFor();
  await settled(page);
  const box = await page.getByTestId('stage').boundingBox();
  if (!box) throw new Error('no stage');
  await page.mouse.move(box.x + box.width / 3, box.y + box.height / 3);
  return longFrames(page, async () => {
    for (let n = 0; n < 120; n++) {
      await page.mouse.wheel(0, n < 60 ? -60 : 40);
      await page.waitForTimeout(16);
    }
    await page.mouse.down();
    for (let n = 0; n < 120; n++) {
      await page.mouse.move(box.x + box.width / 3 + 2 * (n % 60), box.y + box.height / 3 + (n % 60));
      await page.waitForTimeout(16);
    }
    await page.mouse.up();
  });
}

export const interfaceFigures = (work: string): Promise<Row[]> =>
  onPage(300_000, async (page, server) => {
    const opened = await opening(page, server);
    const scroll = await scrolling(page, server, work);
    const zoom = await zooming(page, server, work);
    const tape = await longTape(page, server, work);
    const strokes = await painting(page, server, work);
    const time = (what: string, values: number[], atMost: number): Row => ({
      group: GROUP,
      what,
      shown: `${median(values).toFixed(0)} ms`,
      value: median(values),
      atMost,
      timed: true,
    });
    const smooth = (what: string, { share, frames }: { share: number; frames: number }): Row => ({
      group: GROUP,
      what,
      shown: `${(100 * share).toFixed(1)} % of ${frames}`,
      value: share,
      atMost: SHARE,
      timed: true,
    });
    return [
      time(
        `item opened, of ${opened.length}: kept picture, median`,
        opened.map((o) => o.kept),
        300,
      ),
      time(
        `item opened: source's frame, median`,
        opened.map((o) => o.source),
        300,
      ),
      time(
        `item opened: first part of the result, median`,
        opened.map((o) => o.first),
        600,
      ),
      time("tape of 15 minutes opened: source's frame", [tape.opened.source], 300),
      time('tape of 15 minutes opened: first part of the result', [tape.opened.first], 600),
      time(
        `tape of 15 minutes, jump anywhere, of ${tape.jumps.length}: source's frame, median`,
        tape.jumps.map((j) => j.source),
        300,
      ),
      time(
        'tape of 15 minutes, jump anywhere: first part of the result, median',
        tape.jumps.map((j) => j.first),
        600,
      ),
      time(`plan with ${strokes.before} strokes opened: first part of the result`, [strokes.opened.first], 600),
      time(`plan with ${strokes.before} strokes, one more: until it is kept, median`, strokes.kept, 300),
      time('the same: until its first part is seen, median', strokes.seen, 400),
      smooth(`painting on a plan with ${strokes.before} strokes: frames over ${LONG_MS} ms`, strokes.frames),
      smooth(`scrolling ${ITEMS} items: frames over ${LONG_MS} ms`, scroll),
      smooth(`zooming and moving a scan of ${((SCAN.width * SCAN.height) / 1e6).toFixed(0)} megapixels: frames over ${LONG_MS} ms`, zoom),
    ];
  });
