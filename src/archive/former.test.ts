import { copyFileSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { outputStream } from '../core';
import { allSteps } from '../shared/plan';
import { openArchive, type Archive } from './database';
import { checkAll } from './fixity';
import { listCollections } from './collections';
import { listItems, measuredStream } from './items';
import { currentPlan, planHistory } from './plans';
import { listStrips } from './strips';
import type { Item, Job } from './types';

/** An archive as the program kept it before plans could fork and items could be parts of sources. */
const KEPT = new URL('former/archive-004.sqlite', import.meta.url);

const root = mkdtempSync(path.join(os.tmpdir(), 'wairetic-former-'));
let a: Archive, portrait: Item, disc: Item;

beforeAll(async () => {
  const database = path.join(root, 'archive.sqlite');
  copyFileSync(KEPT, database);
  const at = (name: string): string => {
    mkdirSync(path.join(root, name));
    return path.join(root, name);
  };
  a = await openArchive({
    ...{ root, database, sources: at('sources'), derived: at('derived'), uploads: at('uploads') },
    ...{ work: at('work'), marks: at('marks'), deliveries: at('deliveries') },
  });
  const [{ id }] = await listCollections(a);
  const items = await listItems(a, id);
  [portrait, disc] = ['Portrait of a child', 'Regatta disc, title 1'].map((name) => items.find((i) => i.name === name) as Item);
});
afterAll(async () => {
  await a.db.destroy();
  rmSync(root, { recursive: true });
});

describe('an archive of before', () => {
  it('keeps its items, each with a source of its own and its facts', async () => {
    expect(portrait.source).toMatchObject({
      fileName: 'Portrait of a child.tif',
      path: expect.stringContaining(portrait.source.sha256) as string,
    });
    expect([portrait.facts.stream.width, disc.facts.stream.fieldOrder]).toEqual([560, 'top-first']);
    expect(portrait.condition?.findings.length).toBeGreaterThan(3);
    const names: string[] = [];
    await checkAll(a, ({ name, problem }) => names.push(`${name}: ${problem}`));
    expect(names.sort()).toEqual([
      'Portrait of a child.tif: Portrait of a child.tif is gone',
      'Regatta disc, title 1.mkv: Regatta disc, title 1.mkv is gone',
    ]);
  });

  it('has its masks on the places of the source where they were on the cropped picture', async () => {
    const { plan } = (await currentPlan(a, portrait.id)) as { plan: Parameters<typeof allSteps>[0] & object };
    const [crop, grain, focus] = allSteps(plan);
    expect(crop.settings).toMatchObject({ left: 56, top: 70 });
    // Of 560 x 700, 56 and 70 are cropped off: a quarter of what is left lies at 0.1 + 0.25 * 0.9.
    const { shape } = (grain.mask as NonNullable<typeof grain.mask>).parts[0];
    expect(shape).toMatchObject({ kind: 'oval', turn: 0 });
    const { x, y, width, height } = shape as { x: number; y: number; width: number; height: number };
    for (const [is, was] of [
      [x, 0.1 + 0.25 * 0.9],
      [y, 0.1 + 0.2 * 0.9],
      [width, 0.45],
      [height, 0.54],
      [grain.mask?.feather ?? 0, 0.09],
    ])
      expect(is).toBeCloseTo(was, 9);
    // Also of a step that is off.
    expect(focus.mask).toMatchObject({ inverse: true, parts: [{ shape: { kind: 'oval' } }, { shape: { kind: 'box' }, combine: 'add' }] });
  });

  it('keeps every version, strip and job, all of which still run', async () => {
    const { versions } = await planHistory(a, portrait.id);
    expect(versions.map((v) => v.name)).toEqual(['', '', 'before it is sent']);
    for (const { plan } of versions) expect(outputStream(plan, measuredStream(portrait)).width).toBeGreaterThan(400);
    const [strip] = await listStrips(a, portrait.id);
    expect([strip.chosen, strip.plan.version]).toEqual([1, 2]);
    const job = await a.db('jobs').where({ item_id: disc.id }).first<{ plan: string }>();
    const plan = JSON.parse(job.plan) as Job['plan'];
    expect(allSteps(plan)[1].span).toEqual({ first: 10, last: 40 });
    expect(outputStream(plan, measuredStream(disc)).fieldOrder).toBe('progressive');
  });
});
