import AxeBuilder from '@axe-core/playwright';
import { test as base, expect, type Page } from '@playwright/test';
import path from 'node:path';
import type { Collection, Item } from '../src/archive/types';
import { ROOT, TestServer } from './server';

export const test = base.extend<object, { server: TestServer }>({
  server: [
    // The first argument must be a pattern.
    async ({}, use) => {
      const server = new TestServer();
      await server.start();
      await use(server);
      await server.stop();
    },
    { scope: 'worker' },
  ],
});

export { expect };

export const demoMedia = (name: string): string => path.join(ROOT, 'demo/media', name);

/** A collection with files taken in from this machine, all examined. */
export async function collectionWith(server: TestServer, name: string, ...files: string[]): Promise<{ id: string; items: Item[] }> {
  const { id } = await server.api<Collection>('collections', { name });
  for (const file of files) await server.api(`collections/${id}/takein`, { path: file });
  let items: Item[] = [];
  await expect(async () => {
    ({ items } = await server.api<{ items: Item[] }>(`collections/${id}`));
    expect(items.map((i) => i.state)).toEqual(files.map(() => 'ready'));
  }).toPass({ timeout: 120_000 });
  return { id, items };
}

/** Both pictures of the bench are there and none is under way. */
export async function settled(page: Page): Promise<void> {
  // Letters of another font may take other room.
  await page.evaluate(() => document.fonts.ready);
  await expect(page.getByTestId('stage')).toHaveAttribute('data-waiting', 'false');
  await expect(page.getByTestId('stage')).toHaveAttribute('data-frame', /\d+/);
}

/** WCAG 2.2 AA, as far as a machine can tell. */
export async function accessible(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html).join(' | ')}`)).toEqual([]);
}
