import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { proposePlan, templateOf } from '../core';
import type { PlainPlan } from '../shared/plan';
import { streamInfo } from '../core/testing/pictures';
import { planOf } from '../core/testing/plans';
import { reportOf } from '../core/testing/reports';
import { createCollection } from './collections';
import { openArchive, type Archive } from './database';
import { takeIn } from './intake';
import { findByName, findItem, measuredStream, saveCondition } from './items';
import { archivePaths } from './paths';
import { planHistory, savePlan } from './plans';
import { saveStrip, listStrips, readStrip, removeStrip, updateStrip } from './strips';
import { applyTemplate, findTemplate, listTemplates, previewTemplate, removeTemplate, saveTemplate } from './templates';
import type { Item } from './types';

let root = '';
let a: Archive;
let print: Item, other: Item;

/** An item with a report of so much grain, and its proposed plan; without one where nothing is said. */
async function itemOf(collection: string, name: string, grainLuma?: number): Promise<Item> {
  const file = path.join(root, name);
  const colour = { r: name.length * 9, g: 90, b: 60 };
  await sharp({ create: { width: 64, height: 48, channels: 3, background: colour } })
    .png()
    .toFile(file);
  const taken = await takeIn(a, collection, file, name, 'copy');
  if (!taken.ok) throw new Error(taken.message);
  const [item] = taken.items;
  if (grainLuma === undefined) return item;
  const report = reportOf({ scan: 'still', grainLuma });
  await saveCondition(a, item.id, report);
  await savePlan(a, item.id, proposePlan(report, measuredStream(item)), 'proposed');
  return (await findItem(a, item.id)) as Item;
}

beforeAll(async () => {
  root = mkdtempSync(path.join(tmpdir(), 'wairetic-templates-'));
  a = await openArchive(archivePaths(path.join(root, 'archive')));
  const { id } = await createCollection(a, { name: 'Prints' });
  print = await itemOf(id, 'yard 50% done.png', 5);
  other = await itemOf(id, 'yard.png');
});
afterAll(async () => {
  await a.db.destroy();
  rmSync(root, { recursive: true });
});

describe('templates', () => {
  const plan = planOf(['grain', { keep: 40 }]);
  const template = templateOf(plan, 'Ours', '', { [plan.steps[0].id]: ['keep'] });

  it('of the archive stand before those of the program, which cannot be removed', async () => {
    const kept = await saveTemplate(a, template);
    const all = await listTemplates(a);
    expect([all[0].id, all[0].own, all.length]).toEqual([kept.id, true, 13]);
    expect(await findTemplate(a, all[1].id)).toEqual(all[1]);
    expect(await removeTemplate(a, all[1].id)).toBe(false);
    expect(await removeTemplate(a, kept.id)).toBe(true);
    expect(await findTemplate(a, kept.id)).toBeUndefined();
    await expect(saveTemplate(a, { name: 'x' })).rejects.toThrow('no template');
  });

  it('say what they would change, and then change it in a new version of each plan', async () => {
    const [first, second] = await previewTemplate(a, template, [print, other]);
    expect(first.changes).toContain('Grain: keep 40 % (10 %)');
    expect(second).toMatchObject({ changes: [], problem: 'not examined: nothing can be measured for it' });
    expect(await applyTemplate(a, template, [print, other])).toBe(1);
    const { versions, current } = await planHistory(a, print.id);
    expect([current, versions[1].change]).toEqual([2, 'template “Ours”']);
    expect((versions[1].plan as PlainPlan).steps[0].settings).toMatchObject({ keep: 40, luma: 5 });
    // A second time nothing changes.
    expect(await applyTemplate(a, template, [print])).toBe(0);
  });
});

describe('items', () => {
  it('are found by every word of their name, signs taken as they are', async () => {
    expect((await findByName(a, 'done yard')).map((i) => i.name)).toEqual([print.name]);
    expect(await findByName(a, 'yard')).toHaveLength(2);
    expect((await findByName(a, '50%')).map((i) => i.id)).toEqual([print.id]);
    expect(await findByName(a, 'y_rd')).toEqual([]);
    expect((await findByName(a, ''))[0].collection).toBe('Prints');
  });
});

describe('test strips', () => {
  it('are kept with their figures and with what was taken', async () => {
    const plan = planOf(['grain']);
    const [step] = plan.steps;
    const candidates = [2, 5].map((luma) => ({ label: `luma ${luma}`, step: { ...step, settings: { ...step.settings, luma } } }));
    const region = { x: 0, y: 0, width: 1, height: 1 };
    const strip = await saveStrip(
      a,
      print.id,
      readStrip({ plan, step: step.id, about: 'Grain', frame: 0, region, candidates }, streamInfo({})),
    );
    const figures = [0.5, 0.2].map((noise) => ({ seconds: 0.1, edges: null, noise, invented: 0 }));
    await updateStrip(a, print.id, strip.id, { figures });
    await updateStrip(a, print.id, strip.id, { chosen: 1 });
    const [kept] = await listStrips(a, print.id);
    expect(kept.chosen).toBe(1);
    expect(kept.candidates.map((c) => c.figures?.noise)).toEqual([0.5, 0.2]);
    // A number beyond the last is none of them.
    expect((await updateStrip(a, print.id, strip.id, { chosen: 7 }))?.chosen).toBe(1);
    expect(await updateStrip(a, other.id, strip.id, { chosen: 0 })).toBeUndefined();
    expect(await removeStrip(a, other.id, strip.id)).toBe(false);
    expect(await removeStrip(a, print.id, strip.id)).toBe(true);
    expect(await listStrips(a, print.id)).toEqual([]);
  });
});
