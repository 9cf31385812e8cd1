import { describe, expect, it } from 'vitest';
import { DEFAULT_JOB_OPTIONS } from '../shared/jobs';
import type { Collection, Item } from '../archive';
import { planOf, type Step } from '../core/testing/plans';
import { streamInfo } from '../core/testing/pictures';
import { deliverableNames, patternProblem, previewNames } from './names';
import { splitFrames } from './segments';
import { keptTime } from './trimmed';

const words = { collection: 'Pellow Quay', item: 'Tape 3', date: '2026-11-25' };

describe('file names', () => {
  it('follow the pattern and never leave their folder', () => {
    const item = { name: 'Tape 3', source: { fileName: 'tape.mpg' }, kind: 'moving' } as Item;
    const named = (pattern: string, values = words): string => deliverableNames(item, values, { ...DEFAULT_JOB_OPTIONS, pattern }).master;
    expect(named('{date} {collection}, {item} - {kind}')).toBe('2026-11-25 Pellow Quay, Tape 3 - master.mkv');
    expect(named('{item} {kind}', { ...words, item: '../../etc/x' })).toBe('etc x master.mkv');
  });

  it('never meet one another or the original, and fit any file system', () => {
    const item = { name: 'x', source: { fileName: 'Tape 3 Master.mkv' }, kind: 'moving' } as Item;
    const names = deliverableNames(item, words, { ...DEFAULT_JOB_OPTIONS, pattern: '{item} {kind}' });
    expect(names).toMatchObject({ original: 'Tape 3 Master.mkv', master: 'Tape 3 master (2).mkv', access: 'Tape 3 access.mp4' });
    const long = deliverableNames(item, { ...words, item: '長い名前'.repeat(50) }, { ...DEFAULT_JOB_OPTIONS, pattern: '{item} {kind}' });
    expect(new Set(Object.values(long)).size).toBe(8);
    for (const name of Object.values(long)) expect(Buffer.byteLength(name)).toBeLessThan(230);
  });

  it('say what is wrong with a pattern', () => {
    expect(patternProblem('{item} {kind}')).toBeUndefined();
    expect(patternProblem('{item}')).toContain('{kind}');
    expect(patternProblem('{author} {kind}')).toContain('{author}');
    expect(patternProblem('a/{kind}')).toContain('slash');
  });

  it('are listed before anything is made', () => {
    const item = { name: 'Tape 3', source: { fileName: 'tape.mpg' }, kind: 'moving' } as Item,
      collection = { name: 'Pellow Quay' } as Collection;
    expect(previewNames(item, collection, DEFAULT_JOB_OPTIONS, '2026-11-25', false)).toEqual([
      'tape.mpg',
      'Tape 3 master.mkv',
      'Tape 3 access.mp4',
      'Tape 3 provenance.json',
    ]);
    expect(
      previewNames({ ...item, kind: 'still' }, collection, { ...DEFAULT_JOB_OPTIONS, original: false, stillMaster: 'png' }, 'x', false),
    ).toEqual(['Tape 3 master.png', 'Tape 3 access.jpg', 'Tape 3 provenance.json']);
    expect(previewNames({ ...item, kind: 'still' }, collection, { ...DEFAULT_JOB_OPTIONS, original: false }, 'x', true)).toEqual([
      'Tape 3 master.tif',
      'Tape 3 monochrome.tif',
      'Tape 3 access.jpg',
      'Tape 3 provenance.json',
    ]);
  });
});

describe('splitFrames', () => {
  it('covers every frame once, in pieces of whole units', () => {
    for (const frames of [1, 5, 96, 97, 1000, 107_892]) {
      const pieces = splitFrames(streamInfo({ frames, rate: { num: 60000, den: 1001 } }));
      expect(pieces.reduce((sum, p) => sum + p.count, 0)).toBe(frames);
      pieces.forEach((p, i) => expect(p.first).toBe(i === 0 ? 0 : pieces[i - 1].first + pieces[i - 1].count));
    }
  });

  it('cuts short films finer, so that every thread has work', () => {
    const counts = (frames: number): number[] => splitFrames(streamInfo({ frames, rate: { num: 25, den: 1 } })).map((p) => p.count);
    expect(counts(60)).toEqual([24, 24, 12]);
    expect(counts(800)[0]).toBe(96);
  });
});

describe('keptTime', () => {
  const source = streamInfo({ frames: 300, rate: { num: 30000, den: 1001 }, fieldOrder: 'top-first' });
  const kept = (...steps: Step[]) => keptTime(planOf(...steps), source);
  it('is nothing when all is kept, and exact when a part is', () => {
    expect(kept(['deinterlace', {}])).toBeUndefined();
    expect(kept(['trim', { first: 30, last: 89 }], ['deinterlace', {}])).toEqual({ start: 1.001, duration: 2.002 });
    expect(kept(['deinterlace', {}], ['trim', { first: 60, last: 179 }])).toEqual({ start: 1.001, duration: 2.002 });
  });
});
