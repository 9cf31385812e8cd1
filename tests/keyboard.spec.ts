import type { Locator, Page } from '@playwright/test';
import type { Delivery } from '../src/archive/types';
import { collectionWith, demoMedia, expect, settled, test } from './fixtures';

/** Presses Tab until something has the focus. */
async function tabTo(page: Page, to: Locator, key = 'Tab'): Promise<void> {
  await to.waitFor();
  for (let n = 0; n < 120; n++) {
    if (await to.evaluate((e) => e === document.activeElement)) return;
    await page.keyboard.press(key);
  }
  throw new Error('the keyboard does not get there');
}

const find = async (page: Page, words: string): Promise<void> => {
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find' }).waitFor();
  await page.keyboard.type(words);
  await expect(page.getByRole('option', { name: words }).first()).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('Enter');
};

test('intake, proof, test strip, queue and delivery go by the keyboard alone', async ({ page, server }) => {
  await page.goto(server.url);
  await tabTo(page, page.getByRole('button', { name: 'New collection' }).first());
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Name')).toBeFocused();
  await page.keyboard.type('By hand');
  await page.keyboard.press('Enter');
  await page.waitForURL(/collections\//);

  await tabTo(page, page.getByRole('button', { name: 'From this machine…' }));
  await page.keyboard.press('Enter');
  await page.getByRole('dialog').waitFor();
  await tabTo(page, page.getByRole('dialog').getByRole('textbox'));
  await page.keyboard.type(demoMedia('Photo of a photo.jpg'));
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('item')).toHaveAttribute('data-state', 'ready');
  await find(page, 'Photo of a photo');
  await page.waitForURL(/items\//);
  await settled(page);

  // The proof: zoom, ways of comparing, the split line, the loupe.
  await page.keyboard.press('2');
  await settled(page);
  await expect(page.getByTestId('navigator')).toBeVisible();
  await page.keyboard.press('v');
  const line = page.getByRole('slider', { name: 'Split line' });
  await tabTo(page, line);
  await page.keyboard.press('Shift+ArrowDown');
  await expect(line).toHaveAttribute('aria-valuenow', '55');
  await tabTo(page, page.getByTestId('navigator'));
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('0');

  // A setting, by its field.
  const grain = page.getByTestId('step-grain');
  await tabTo(page, grain.getByRole('button', { name: /^Grain/ }), 'Shift+Tab');
  await page.keyboard.press('Enter');
  await tabTo(page, grain.getByLabel('Keep', { exact: true }));
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Alt+ArrowUp');
  await expect(grain.getByLabel('Keep', { exact: true })).toHaveValue('11.1');
  await expect(page.getByTestId('explanation')).toContainText('Keep.');
  await tabTo(page, grain.getByRole('button', { name: 'Reset', exact: true }));
  await page.keyboard.press('Enter');
  await expect(grain.getByLabel('Keep', { exact: true })).toHaveValue('10');

  await tabTo(page, page.getByRole('button', { name: 'Test strip…' }), 'Shift+Tab');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'Test strip' });
  await tabTo(page, dialog.getByLabel('Values'));
  await page.keyboard.type('2, 9');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('candidate').last().locator('canvas')).toHaveAttribute('data-filled', 'true');
  await page.keyboard.press('Alt+2');
  await expect(page.getByTestId('candidate').last()).toContainText('taken');
  await page.keyboard.press('Escape');
  await expect(grain).toContainText('luma 9.0');
  await settled(page);

  await page.keyboard.press('q');
  await tabTo(page, page.getByRole('dialog').getByRole('button', { name: 'Add to queue' }));
  await page.keyboard.press('Enter');
  await page.getByRole('dialog').waitFor({ state: 'hidden' });
  await find(page, 'Queue');
  await page.waitForURL(/queue/);
  await expect(page.getByTestId('job').first()).toHaveAttribute('data-state', 'done', { timeout: 180_000 });
  await find(page, 'Deliveries');
  await page.waitForURL(/deliveries/);
  await tabTo(page, page.getByRole('link', { name: 'Photo of a photo access.jpg', exact: true }));
  const [delivery] = await server.api<Delivery[]>('deliveries');
  expect(delivery.files.map((f) => f.kind).sort()).toEqual(['access', 'master', 'original', 'provenance']);
});

test('the palette finds places, items, treatments and actions by name', async ({ page, server }) => {
  await collectionWith(server, 'Found', demoMedia('Two on the quay.jpg'));
  await page.goto(server.url);
  await find(page, 'Templates');
  await page.waitForURL(/templates/);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Find a place, an item');
  await page.keyboard.press('Escape');
  await find(page, 'Two on the quay');
  await page.waitForURL(/items\//);
  await settled(page);
  await find(page, 'Add Regrain');
  await expect(page.getByTestId('step-regrain')).toHaveCount(2);
  await find(page, 'Next way of comparing');
  await expect(page.getByRole('radio', { name: 'Pair' })).toBeChecked();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('nothing of the kind');
  await expect(page.getByText('Nothing of that name.')).toBeVisible();
});
