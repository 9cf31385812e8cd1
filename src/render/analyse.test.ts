import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  type Analysis,
  analysisFile,
  analysisOf,
  createCollection,
  ANALYSES,
  findAnalysisIn,
  type Item,
  keepAnalysis,
  keepPicture,
  measuredStream,
  pictureKey,
  pieceFile,
  readAnalysis,
  takeIn,
  tracesAnalysis,
} from '../archive';
import { TestArchive } from '../archive/testing';
import { layOut, type Tones, type Treatment, TREATMENTS } from '../core';
import { NO_NEEDS } from '../core/treatments/treatment';
import { RegrainSettings } from '../core/treatments/regrain/regrain';
import { emptyPlan } from '../shared/plan';
import { analysed, analysisState, type WantedAnalysis } from './analyse';
import { awaitedOf, measureMissing } from './planAnalyses';
import { sourceRef } from './sourceRef';

/** Frames of the clip: three pieces of traces. */
const FRAMES = 210;

let held: TestArchive, item: Item;
beforeAll(async () => {
  held = await TestArchive.open();
  const clip = path.join(held.root, 'clip.mkv');
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    'testsrc=size=64x48:rate=25',
    '-frames:v',
    String(FRAMES),
    '-c:v',
    'ffv1',
    clip,
  ]);
  const collection = await createCollection(held.archive, { name: 'Measured' });
  const taken = await takeIn(held.archive, collection.id, clip, 'clip.mkv', 'copy');
  if (!taken.ok) throw new Error(taken.message);
  [item] = taken.items;
});
afterAll(() => held.close());

const tracesIn = (name: string): WantedAnalysis<{ measures: { frame: number }[] }> => ({
  analysis: tracesAnalysis,
  file: analysisFile(held.archive.paths.derived, tracesAnalysis, name),
  stream: measuredStream(item),
  describe: async () => ({ source: await sourceRef(held.archive, item) }),
});

describe('measuring', () => {
  it('is done in pieces in processes of their own, which leave one whole', async () => {
    const wanted = tracesIn('whole');
    const { measures } = await analysed(wanted);
    expect(measures.map((m) => m.frame)).toEqual(Array.from({ length: FRAMES }, (_, n) => n));
    expect(readdirSync(path.dirname(wanted.file)).filter((f) => f.includes('-of-'))).toEqual([]);
    expect(await analysisState(wanted)).toEqual({ value: { measures }, share: 1 });
  });

  it('takes up what a restart left: pieces that are there are not measured again', async () => {
    const wanted = tracesIn('taken up');
    const kept = { measures: [{ frame: 7777 }] };
    await keepAnalysis(pieceFile(wanted.file, { index: 1, count: 3 }), wanted.analysis, { value: kept, share: 1 });
    const begun = await analysisState(wanted);
    expect(begun.share).toBeCloseTo(1 / 3);
    expect(begun.value).toEqual(kept);
    const { measures } = await analysed(wanted);
    expect(measures.map((m) => m.frame)).toEqual([
      ...Array.from({ length: 70 }, (_, n) => n),
      7777,
      ...Array.from({ length: 70 }, (_, n) => 140 + n),
    ]);
  });

  it('that fails says why, and is begun again when it is asked for whole', async () => {
    const wanted = tracesIn('gone');
    const gone: typeof wanted = {
      ...wanted,
      describe: async () => ({ source: { ...(await sourceRef(held.archive, item)), path: path.join(held.root, 'gone.mkv') } }),
    };
    await expect(analysed(gone)).rejects.toThrow();
    const { problem, share } = await analysisState(gone);
    expect(problem).toBeTruthy();
    expect(share).toBe(0);
    expect((await analysed(wanted)).measures).toHaveLength(FRAMES);
  });
});

describe('measuring what a step reads', () => {
  it('sees what hand work and other pictures have made of it before', async () => {
    const a = held.archive;
    const file = path.join(held.root, 'grey.png');
    await sharp({ create: { width: 64, height: 48, channels: 3, background: '#808080' } })
      .png()
      .toFile(file);
    const taken = await takeIn(a, item.collectionId, file, 'grey.png', 'copy');
    if (!taken.ok) throw new Error(taken.message);
    const [still] = taken.items;
    const red = Uint8Array.from({ length: 3 * 16 * 16 }, (_, i) => (i % 3 ? 20 : 220));
    const settings = { picture: await keepPicture(a.paths.marks, { data: red, width: 16, height: 16 }), x: 32, y: 24, width: 60, light: 0 };
    const plan = emptyPlan([{ id: 'laid', treatment: 'inlay', on: true, settings }]);
    const tones = analysisOf('tones') as Analysis<Tones>;
    const rangeOf = async (name: string, of?: { plan: typeof plan; node: string }): Promise<number> => {
      const wanted = { analysis: tones, file: analysisFile(a.paths.derived, tones, name), stream: measuredStream(still) };
      const { luma } = await analysed({ ...wanted, describe: async () => ({ source: await sourceRef(a, still), of }) });
      return Math.max(...luma) - Math.min(...luma);
    };
    expect(await rangeOf('plain')).toBe(0);
    expect(await rangeOf('laid in', { plan, node: 'laid' })).toBeGreaterThan(30);
  });
});

describe('a plan with a step that reads what is not measured', () => {
  const reading: Treatment = {
    id: 'reading',
    version: 1,
    name: 'Reading',
    answers: 'nothing, but in tests',
    settings: RegrainSettings,
    inPlace: true,
    reads: () => ['traces'],
    suits: () => true,
    output: (input) => input,
    needs: () => NO_NEEDS,
    propose: () => undefined,
    summary: () => '',
    apply: ([source]) => source,
  };
  const register = TREATMENTS as Treatment[];
  beforeAll(() => void register.push(reading));
  afterAll(() => void register.pop());
  const plan = emptyPlan([{ id: 'r', treatment: 'reading', on: true, settings: {} }]);
  const layout = () => layOut(plan, measuredStream(item), pictureKey(item), findAnalysisIn(held.archive.paths.derived, ANALYSES));

  it('is told how far that is, and has it measured before it is rendered', async () => {
    const { missing } = layout();
    expect(missing).toMatchObject([{ step: 'r', analysis: 'traces' }]);
    expect(await awaitedOf(held.archive, item, plan, missing)).toMatchObject([
      { step: 'r', name: 'traces', share: expect.any(Number) as number },
    ]);
    await measureMissing(held.archive, item, plan);
    expect(layout().missing).toEqual([]);
    const file = analysisFile(held.archive.paths.derived, tracesAnalysis, missing[0].key);
    expect(existsSync(file)).toBe(true);
    expect((await readAnalysis(file, tracesAnalysis))?.value.measures).toHaveLength(FRAMES);
  });
});
