import { chromium, type Browser, type Page } from '@playwright/test';
import type { Collection, Item } from '../src/archive';
import { TestServer } from '../tests/server';

/** What benches of the interface ask of a page. */

/** What Chromium is started with. */
const FLAGS = [
  ...['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking'],
  ...['--disable-component-update', '--disable-sync'],
];

/** Runs something on a page of a server of its own, both of which end with it. @param patience milliseconds that anything may take. */
export async function onPage<T>(patience: number, work: (page: Page, server: TestServer) => Promise<T>): Promise<T> {
  const server = new TestServer();
  await server.start();
  let browser: Browser | undefined;
  try {
    browser = await chromium.launch({ executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: FLAGS });
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    page.setDefaultTimeout(patience);
    return await work(page, server);
  } finally {
    await browser?.close();
    await server.stop();
  }
}

/** Milliseconds a frame may take. */
export const LONG_MS = 50;

export const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];

/** A collection of a file or a folder, all of it examined. @param told the collection's name, and what else is told of it. */
export async function takenIn(server: TestServer, told: { name: string }, from: string): Promise<{ id: string; items: Item[] }> {
  const { id } = await server.api<Collection>('collections', told);
  await server.api(`collections/${id}/takein`, { path: from });
  for (;;) {
    const { items } = await server.api<{ items: Item[] }>(`collections/${id}`);
    if (items.length && items.every((i) => i.state !== 'examining')) return { id, items };
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
}

export const settled = (page: Page): Promise<unknown> =>
  page.waitForFunction(() => {
    const stage = document.querySelector<HTMLElement>('[data-testid=stage]');
    return stage?.dataset.waiting === 'false' && stage.dataset.frame !== undefined;
  });

/**
 * When, counted from a click or a key, each thing is there to be seen; asked at every frame of the screen.
 * @param waits what is waited for, by name, in terms of `stage` and `bar`, the data of the picture and of the bar below it.
 */
export async function untilSeen(page: Page, act: () => Promise<void>, waits: Record<string, string>): Promise<Record<string, number>> {
  const tests = Object.entries(waits).map(([name, test]) => `${JSON.stringify(name)}: (stage, bar) => ${test}`);
  await page.evaluate(`
    window.seenAt = {};
    window.allSeen = false;
    window.actedAt = undefined;
    for (const kind of ['click', 'keydown', 'pointerdown'])
      addEventListener(kind, (e) => (window.actedAt ??= performance.now()), { once: true, capture: true });
    (function look() {
      const tests = { ${tests.join(', ')} };
      const stage = document.querySelector('[data-testid=stage]')?.dataset ?? {};
      const bar = document.querySelector('[data-testid=viewer-state]')?.dataset ?? {};
      if (window.actedAt !== undefined)
        for (const [name, test] of Object.entries(tests))
          if (window.seenAt[name] === undefined && test(stage, bar)) window.seenAt[name] = performance.now() - window.actedAt;
      window.allSeen = Object.keys(tests).every((name) => window.seenAt[name] !== undefined);
      if (!window.allSeen) requestAnimationFrame(look);
    })();
  `);
  await act();
  await page.waitForFunction(() => (window as unknown as { allSeen: boolean }).allSeen);
  return page.evaluate<Record<string, number>>('window.seenAt');
}

/** Share of the frames drawn while `work` goes on that took longer than they may. */
export async function longFrames(page: Page, work: () => Promise<void>): Promise<{ share: number; frames: number }> {
  // As text: what the compiler adds to functions is not there in the page.
  await page.evaluate(`
    window.frameTimes = [];
    (function tick(now) {
      if (now) window.frameTimes.push(now);
      requestAnimationFrame(tick);
    })();
  `);
  await work();
  const times = await page.evaluate<number[]>('window.frameTimes');
  const steps = times.slice(1).map((t, n) => t - times[n]);
  return { share: steps.filter((s) => s > LONG_MS).length / steps.length, frames: steps.length };
}
