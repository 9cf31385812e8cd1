import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { compile, type FilmFaces, PictureCache, tracesOf } from '../../core';
import { openSource } from '../../media';
import { probe, type Probed } from '../../media/probe';
import { emptyPlan } from '../../shared/plan';
import type { Analysis, Piece } from './analysis';
import { thumbnailAnalysis } from './thumbnail';
import { conditionAnalysis } from './condition';
import { filmColoursAnalysis } from './filmColours';
import { frameTimes } from './frameTimes';
import { analysisFile, findAnalysisIn, keepAnalysis, readAnalysis } from './kept';
import { ANALYSES } from './register';
import { tracesAnalysis, type MeasuredTraces } from './traces';

let root = '',
  clip = '',
  probed: Probed;
beforeAll(async () => {
  root = mkdtempSync(path.join(tmpdir(), 'wairetic-analyses-'));
  clip = path.join(root, 'clip.mkv');
  // Two scenes of a second each.
  const scenes = ['testsrc=size=160x120:rate=12:duration=1', 'mandelbrot=size=160x120:rate=12'].flatMap((s) => ['-f', 'lavfi', '-i', s]);
  const join = '[0:v]format=yuv420p,setsar=1[a];[1:v]trim=duration=1,format=yuv420p,setsar=1[b];[a][b]concat=n=2[v]';
  execFileSync('ffmpeg', ['-v', 'error', ...scenes, '-filter_complex', join, '-map', '[v]', '-c:v', 'ffv1', clip]);
  probed = await probe(clip);
});
afterAll(() => rmSync(root, { recursive: true }));

/** What is known of a film that shows no faces. */
const NOBODY: FilmFaces = { width: 64, height: 48, frames: 24, shots: [0], tracks: [] };

async function measured<T>(
  analysis: Analysis<T>,
  { kept, stopAt = 1, piece }: { kept?: T; stopAt?: number; piece?: Piece } = {},
): Promise<{ value: T; partial?: T; shares: number[] }> {
  const source = await openSource(clip, 'clip', probed);
  const { output: node } = compile(emptyPlan(), source, { cache: new PictureCache(0) });
  const shares: number[] = [];
  let partial: T | undefined;
  const progress = (value: T, share: number): Promise<void> => {
    shares.push(share);
    partial ??= share >= stopAt ? analysis.decode(JSON.parse(JSON.stringify(analysis.encode(value)))) : undefined;
    return Promise.resolve();
  };
  const value = await analysis.measure(
    { node, source, path: clip, facts: probed.facts, known: (id) => (id === 'film-faces' ? NOBODY : undefined) },
    { kept, piece, progress, cancelled: () => false },
  );
  source.close?.();
  return { value, partial, shares };
}

describe('analyses', () => {
  it('of traces measure every frame, find a scene change, and taken up half way come to the same', async () => {
    const whole = await measured(tracesAnalysis, { stopAt: 0.3 });
    expect(whole.value.measures.map((m) => m.frame)).toEqual(Array.from({ length: 24 }, (_, n) => n));
    expect(tracesOf(whole.value.measures).scenes).toEqual([12]);
    expect(whole.shares.at(-1)).toBe(1);
    const rest = await measured(tracesAnalysis, { kept: whole.partial as MeasuredTraces });
    expect(rest.value).toEqual(whole.value);
    expect(rest.shares.length).toBeLessThan(whole.shares.length);
  });

  it('of traces measured in pieces are what they are in one go', async () => {
    const { value } = await measured(tracesAnalysis);
    const pieces = await Promise.all([0, 1, 2].map((index) => measured(tracesAnalysis, { piece: { index, count: 3 } })));
    expect(pieces.map((p) => p.value.measures.length)).toEqual([8, 8, 8]);
    expect(tracesAnalysis.pieces?.join(pieces.map((p) => p.value))).toEqual(value);
    expect(tracesAnalysis.pieces?.join([undefined, pieces[1].value, undefined]).measures).toEqual(value.measures.slice(8, 16));
    const count = (frames: number): number | undefined => tracesAnalysis.pieces?.count({ ...probed.facts.stream, frames });
    expect([1, 100, 101, 27_000, 270_000].map(count)).toEqual([1, 1, 2, 30, 30]);
  });

  it('of a film, measured in pieces, find the same motion and the same shots', async () => {
    const { value, shares } = await measured(filmColoursAnalysis);
    expect(value.motion).toMatchObject({ width: 160, height: 120, frames: 24, shots: [0, 12] });
    expect(value.keys.map(({ frame }) => frame)).toEqual([0, 12, 16]);
    expect(value.own).toBe('coloured');
    expect(shares).toHaveLength(24);
    const pieces = await Promise.all([0, 1, 2].map((index) => measured(filmColoursAnalysis, { piece: { index, count: 3 } })));
    const joined = filmColoursAnalysis.pieces?.join(pieces.map((piece) => piece.value));
    const again = filmColoursAnalysis.decode(JSON.parse(JSON.stringify(filmColoursAnalysis.encode(value))));
    expect(again).toEqual(value);
    expect(value.keys[0].things?.figures.length).toBeGreaterThan(0);
    expect(joined?.motion).toEqual(value.motion);
    expect(joined?.keys.map(({ frame }) => frame)).toEqual([0, 8, 12, 16]);
  });

  it.each(ANALYSES.map((a) => [a.id, a] as const))('%s comes back as it was kept', async (_, analysis) => {
    const { value } = await measured(analysis);
    const file = analysisFile(root, analysis, 'node');
    await keepAnalysis(file, analysis, { value, share: 1 });
    const kept = await readAnalysis(file, analysis);
    expect(analysis.encode(kept?.value)).toEqual(JSON.parse(JSON.stringify(analysis.encode(value))));
    // Nothing is left of files on their way.
    expect(readdirSync(path.dirname(file)).filter((f) => f.endsWith('.new'))).toEqual([]);
  });

  it('of frame times say when each frame is shown; of the condition, what is wrong with the picture; thumbnails are JPEG', async () => {
    expect((await measured(frameTimes)).value).toMatchObject({ frames: 24, rate: { num: 12, den: 1 } });
    expect((await measured(conditionAnalysis)).value.measurements.scan).toBe('progressive');
    expect([...(await measured(thumbnailAnalysis)).value.subarray(0, 2)]).toEqual([0xff, 0xd8]);
  });

  it('are found by node, kind and version once they are whole, and not when they are damaged', async () => {
    const find = findAnalysisIn(root, ANALYSES);
    const value = { measures: [] };
    const file = analysisFile(root, tracesAnalysis, 'other');
    expect(find('other', 'traces')).toBeUndefined();
    await keepAnalysis(file, tracesAnalysis, { value, share: 0.5 });
    expect(find('other', 'traces')).toBeUndefined();
    await keepAnalysis(file, tracesAnalysis, { value, share: 1 });
    expect(find('other', 'traces')).toMatchObject({ value, hash: expect.stringMatching(/^[0-9a-f]{64}$/) as string });
    expect(find('another', 'traces')).toBeUndefined();
    expect(find('other', 'nothing')).toBeUndefined();
    expect(analysisFile(root, { ...tracesAnalysis, version: 2 }, 'other')).not.toBe(file);
    writeFileSync(file, '{"share":1,');
    expect(await readAnalysis(file, tracesAnalysis)).toBeUndefined();
    expect(findAnalysisIn(root, ANALYSES)('other', 'traces')).toBeUndefined();
    expect(findAnalysisIn(undefined, ANALYSES)('node', 'traces')).toBeUndefined();
  });
});
