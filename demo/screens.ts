/** Takes the screenshots of docs/screenshots that show the demo: all, or those that are named. */
import path from 'node:path';
import type { Locator, Page } from '@playwright/test';
import type { InPictureAnswer, Item, ItemAnswer, JobProgress, PeopleAnswer } from '../src/archive';
import { onPage, settled, takenIn } from '../bench/page';
import { CAST } from './people/cast';
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
    const id = this.idOf(name);
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

  /** Until something the server answers is so. */
  private async until<T>(route: string, is: (answer: T) => boolean): Promise<T> {
    for (;;) {
      const answer = await this.server.api<T>(route);
      if (is(answer)) return answer;
      await this.page.waitForTimeout(500);
    }
  }

  /** People, once all were looked for, with the names of the couple of 1921. */
  async toPeople(): Promise<void> {
    const people = `collections/${this.collection}/people`;
    const { persons } = await this.until<PeopleAnswer>(people, ({ share }) => share === 1);
    const couple = this.idOf('Edwin and Lilian, 1921');
    const [left, right] = await this.server.api<InPictureAnswer[]>(`items/${couple}/people`);
    for (const [{ face }, { name, born }] of [
      [left, CAST.lilian],
      [right, CAST.edwin],
    ] as const) {
      const person = persons.find(({ faces }) => faces.some(({ id }) => id === face));
      if (person) await this.server.api(`${people}/${person.id}`, { name, born }, 'PATCH');
    }
    await this.go(`people/${this.collection}`);
    await this.page.getByRole('button', { name: /^Edwin Marrow/ }).click();
  }

  idOf = (name: string): string | undefined => this.items.find((item) => item.name === name)?.id;

  /** Adds items to the queue, and waits until so many are done. */
  async queued(names: string[], done: number): Promise<void> {
    for (const name of names) await this.server.api('jobs', { itemId: this.idOf(name) });
    await this.until<JobProgress[]>('jobs', (jobs) => jobs.filter(({ state }) => state === 'done').length >= done);
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
    await demo.toBench('Album leaf, 1968', turnedOn('faces'));
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
  async people(demo) {
    await demo.toPeople();
    await demo.page.waitForLoadState('networkidle');
  },
  async strip(demo) {
    await demo.toBench('Christmas Eve, camcorder');
    await demo.page.keyboard.press('t');
    const dialog = demo.page.getByRole('dialog', { name: 'Test strip' });
    const grain = dialog.getByLabel('Step').locator('option', { hasText: 'Grain' });
    await dialog.getByLabel('Step').selectOption(await grain.getAttribute('value'));
    await dialog.getByLabel('What differs').selectOption('Luma');
    await dialog.getByLabel('Values').fill('1, 3.5, 7, 14');
    await dialog.getByRole('button', { name: 'Make the strip' }).click();
    for (const n of [0, 1, 2, 3]) await demo.page.getByTestId('candidate').nth(n).locator('canvas[data-filled=true]').waitFor();
  },
  async 'handing-over'(demo) {
    await demo.toBench('Edwin and Lilian, 1921');
    await demo.page.getByRole('button', { name: 'Add to queue' }).click();
    const dialog = demo.page.getByRole('dialog', { name: 'Add to the queue' });
    await dialog.getByRole('checkbox', { name: /^Sheet of before and after/ }).check();
    await dialog.getByRole('checkbox', { name: 'Print on paper, PDF' }).check();
    await dialog.getByRole('status').filter({ hasText: 'Access copy' }).waitFor();
  },
  async 'template-apply'({ page, toCollection }) {
    await toCollection();
    await page.getByPlaceholder(/^name or condition/).fill('interlaced');
    await page.getByRole('button', { name: 'Choose all' }).click();
    await page.getByRole('button', { name: 'Apply a template…' }).click();
    await page.getByTestId('preview').first().waitFor();
  },
  async deliveries(demo) {
    await demo.queued(['Harbour, web clip', 'Two on the quay'], 2);
    await demo.go('deliveries');
  },
  async queue(demo) {
    await demo.queued(['Regatta 1961, 16 mm', 'Cottage lane, tape 1', 'Janet and Peter, 1974'], 0);
    await demo.go('queue');
    await demo.page
      .getByText(/[1-9]\d* of \d+/)
      .first()
      .waitFor();
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
