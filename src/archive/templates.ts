import { randomUUID } from 'node:crypto';
import { planChanges, planFromTemplate, type PlanTemplate, readTemplate, SHIPPED_TEMPLATES } from '../core';
import { now, type Archive } from './database';
import { measuredStream } from './items';
import { currentPlan, savePlan } from './plans';
import type { Item, KeptTemplate, TemplatePreview } from './types';

/** Templates of plans: those that come with the program, and the archive's own. */

interface TemplateRow {
  id: string;
  content: string;
  created: string;
}

const fromRow = (row: TemplateRow): KeptTemplate => ({ id: row.id, own: true, template: JSON.parse(row.content) as PlanTemplate });

const slug = (name: string): string => name.toLowerCase().replace(/[^a-z0-9]+/g, '-');

const shipped: KeptTemplate[] = SHIPPED_TEMPLATES.map((template) => ({ id: `with-${slug(template.name)}`, own: false, template }));

/** The archive's own, the newest first, then those that come with the program. */
export async function listTemplates({ db }: Archive): Promise<KeptTemplate[]> {
  return [...((await db('templates').orderBy('created', 'desc')) as TemplateRow[]).map(fromRow), ...shipped];
}

export async function findTemplate({ db }: Archive, id: string): Promise<KeptTemplate | undefined> {
  const row = (await db('templates').where({ id }).first()) as TemplateRow | undefined;
  return row ? fromRow(row) : shipped.find((t) => t.id === id);
}

/** @throws PlanError where it is no template. */
export async function saveTemplate({ db }: Archive, given: unknown): Promise<KeptTemplate> {
  const row: TemplateRow = { id: randomUUID(), content: JSON.stringify(readTemplate(given)), created: now() };
  await db('templates').insert(row);
  return fromRow(row);
}

/** Only the archive's own can be removed. @returns whether one was. */
export async function removeTemplate({ db }: Archive, id: string): Promise<boolean> {
  return (await db('templates').where({ id }).delete()) > 0;
}

/** What a template would change of each item's plan; of items that are not examined, why it cannot be applied. */
export async function previewTemplate(a: Archive, template: PlanTemplate, items: Item[]): Promise<TemplatePreview[]> {
  return Promise.all(
    items.map(async (item) => {
      const present = await currentPlan(a, item.id);
      if (!item.condition || !present)
        return { itemId: item.id, name: item.name, changes: [], problem: 'not examined: nothing can be measured for it' };
      const plan = planFromTemplate(template, item.condition, measuredStream(item));
      return { itemId: item.id, name: item.name, changes: planChanges(present.plan, plan) };
    }),
  );
}

/** Gives every item that is examined and would change the template's plan as a new version. @returns how many got one. */
export async function applyTemplate(a: Archive, template: PlanTemplate, items: Item[]): Promise<number> {
  let applied = 0;
  for (const { itemId, changes, problem } of await previewTemplate(a, template, items)) {
    const item = items.find((i) => i.id === itemId);
    if (problem || changes.length === 0 || !item?.condition) continue;
    await savePlan(a, item.id, planFromTemplate(template, item.condition, measuredStream(item)), `template “${template.name}”`);
    applied++;
  }
  return applied;
}
