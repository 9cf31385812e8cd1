import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { tracesOf } from '../core/condition/traces';
import { probe } from '../media/probe';
import { traceSource, type KeptTraces } from './traces';

let root = '',
  clip = '';

beforeAll(() => {
  root = mkdtempSync(path.join(tmpdir(), 'wairetic-traces-'));
  clip = path.join(root, 'clip.mkv');
  // Two scenes of a second each.
  const scenes = ['testsrc=size=160x120:rate=12:duration=1', 'mandelbrot=size=160x120:rate=12'].flatMap((s) => ['-f', 'lavfi', '-i', s]);
  const join = '[0:v]format=yuv420p,setsar=1[a];[1:v]trim=duration=1,format=yuv420p,setsar=1[b];[a][b]concat=n=2[v]';
  execFileSync('ffmpeg', ['-v', 'error', ...scenes, '-filter_complex', join, '-map', '[v]', '-c:v', 'ffv1', clip]);
});
afterAll(() => rmSync(root, { recursive: true }));

describe('traceSource', () => {
  it('measures every frame of a clip and finds its scene change; taken up half way it comes to the same', async () => {
    const probed = await probe(clip);
    const ref = { path: clip, key: 'clip', probed, info: probed.facts.stream };
    const file = path.join(root, 'traces.json');
    await traceSource(ref, file, []);
    const whole = JSON.parse(readFileSync(file, 'utf8')) as KeptTraces;
    expect(whole.total).toBe(24);
    expect(whole.measures.map((m) => m.frame)).toEqual(Array.from({ length: 24 }, (_, n) => n));
    expect(tracesOf(whole.measures).scenes).toEqual([12]);
    await traceSource(ref, file, whole.measures.slice(0, 7));
    expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual(whole);
  });
});
