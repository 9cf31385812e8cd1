/** Takes the screenshots of docs/screenshots that show the demo: all, or those that are named. */
import path from 'node:path';
import type { Locator, Page } from '@playwright/test';
import type { Item, ItemAnswer } from '../src/archive';
import { onPage, settled, takenIn } from '../bench/page';
import { COLLECTION, dateOf, MEDIA } from './collection';
import { mapSteps, type Plan } from '../src/shared/plan';
import type { TestServer } from '../tests/server';

const FOLDER = path.resolve(import.meta.dirname, '../docs/screenshots');
/** Milliseconds that anything may take, on a machine that does other work. */
const PATIENCE = 240_000;

/** The demo's archive in a browser. */
class Demo {
  constructor(
    readonly page: Page,
    private readonly server: TestServer,
    private readonly collection: string,
    private readonly items: Item[],
  ) {}

  go = (place: string): Promise<unknown> => this.page.goto(`${this.server.url}/${place}`, { waitUntil: 'networkidle' });

  toCollection = (): Promise<unknown> => this.go(`collections/${this.collection}`);

  /** Opens an item on the bench, with its proposed plan but for what is changed. */
  async toBench(name: string, change = (plan: Plan): Plan => plan): Promise<void> {
    const id = this.items.find((item) => item.name === name)?.id;
    const { plan } = await this.server.api<Required<ItemAnswer>>(`items/${id}`);
    await this.server.api(`items/${id}/plan`, { plan: change(plan.plan), change: 'for a picture' }, 'PUT');
    await this.go(`items/${id}`);
    await this.settled();
  }

  /** A step of the plan, open. */
  async opened(treatment: string, name: string): Promise<Locator> {
    const step = this.page.getByTestId(`step-${treatment}`).first();
    await step
      .getByRole('button', { name: new RegExp(`^${name}`) })
      .first()
      .click();
    return step;
  }

  async added(treatment: string, name: string): Promise<Locator> {
    await this.page.getByRole('button', { name: '+ Add a treatment' }).first().click();
    await this.page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click();
    return this.page.getByTestId(`step-${treatment}`).first();
  }

  /** Until both pictures and all patches are there, and nothing is measured any more. */
  async settled(): Promise<void> {
    await settled(this.page);
    await this.page.waitForLoadState('networkidle');
    await this.page
      .getByText(/measuring, |being measured|is measured: /)
      .first()
      .waitFor({ state: 'hidden' });
    await settled(this.page);
  }
}

/** A plan in which one step is on, with other settings. */
const turnedOn =
  (treatment: string, settings: Record<string, unknown> = {}) =>
  (plan: Plan): Plan =>
    mapSteps(plan, (step) => (step.treatment === treatment ? { ...step, on: true, settings: { ...step.settings, ...settings } } : step));

const SCREENS: Record<string, (demo: Demo) => Promise<void>> = {
  async collections({ go }) {
    await go('');
  },
  async collection({ toCollection }) {
    await toCollection();
  },
  async templates({ go }) {
    await go('templates');
  },
  async bench(demo) {
    await demo.toBench('Regatta 1961, 16 mm');
  },
  async 'bench-pair'(demo) {
    await demo.toBench('Cottage lane, tape 1', turnedOn('grain', { keep: 20 }));
    await demo.page.getByRole('radio', { name: 'Pair' }).click();
    await demo.page.getByRole('radio', { name: '200', exact: true }).click();
    await demo.page.getByRole('tab', { name: 'History' }).click();
    await demo.opened('grain', 'Grain');
  },
  async 'bench-mask'(demo) {
    await demo.toBench('Portrait of a child', turnedOn('grain'));
    const step = await demo.opened('grain', 'Grain');
    await step.getByRole('button', { name: 'oval', exact: true }).click();
  },
  async 'bench-fork'(demo) {
    await demo.toBench('Portrait of a child', turnedOn('grain'));
    const step = await demo.opened('grain', 'Grain');
    await step.getByRole('button', { name: 'Fork', exact: true }).click();
  },
  async 'bench-dirt'(demo) {
    await demo.toBench('Edwin and Lilian, 1921', turnedOn('dirt'));
    const step = await demo.opened('dirt', 'Dirt');
    await step.getByRole('button', { name: 'show', exact: true }).click();
  },
  async 'bench-tone'(demo) {
    await demo.toBench('Christmas 1962', turnedOn('tone'));
    await demo.opened('tone', 'Tone');
  },
  async 'bench-background'(demo) {
    await demo.toBench('Portrait of a child');
    const step = await demo.added('background', 'Background');
    await demo.settled();
    await step.getByRole('button', { name: 'show', exact: true }).click();
    await step.getByLabel('Found in view').filter({ hasText: '%' }).waitFor();
  },
  async 'bench-faces'(demo) {
    await demo.toBench('Album leaf, 1937', turnedOn('faces'));
    const step = await demo.opened('faces', 'Faces');
    await step.locator('[data-testid=face-after][data-there=true]').nth(3).waitFor();
    await step
      .getByRole('button', { name: /^Look at Face 2,/ })
      .first()
      .click();
  },
  async 'bench-inlay'(demo) {
    await demo.toBench('Album leaf, 1937');
    const step = await demo.added('inlay', 'Inlay');
    await step.getByLabel('Picture', { exact: true }).selectOption('Album leaf, 1955');
    await step.getByLabel('Part of it').selectOption({ index: 1 });
    await step.getByLabel('Laid on').selectOption({ index: 1 });
  },
  async 'bench-colour'(demo) {
    await demo.toBench('Album leaf, 1928', turnedOn('colourise'));
    const step = await demo.opened('colourise', 'Colourise');
    const parts = step.getByRole('group', { name: 'Which part' });
    for (const part of ['skin', 'lips', 'hair']) {
      await parts.getByRole('button', { name: part }).click();
      await step
        .getByLabel(new RegExp(`^${part}: `))
        .nth(1)
        .click();
    }
  },
};

const asked = process.argv.slice(2);
const unknown = asked.find((name) => !(name in SCREENS));
if (unknown) throw new Error(`There is no screen "${unknown}"; there are ${Object.keys(SCREENS).join(', ')}.`);
await onPage(PATIENCE, async (page, server) => {
  const { id, items } = await takenIn(server, COLLECTION, MEDIA);
  for (const { id: item, about, source } of items)
    await server.api(`items/${item}/about`, { ...about, date: dateOf(source.fileName) }, 'PATCH');
  const demo = new Demo(page, server, id, items);
  for (const [name, show] of Object.entries(SCREENS)) {
    if (asked.length && !asked.includes(name)) continue;
    await show(demo);
    if (page.url().includes('/items/')) await demo.settled();
    await page.screenshot({ path: path.join(FOLDER, `${name}.png`) });
    process.stdout.write(`${name}.png\n`);
  }
});
