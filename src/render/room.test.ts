import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createCollection, createJob, findJob } from '../archive';
import { TestArchive } from '../archive/testing';
import { DEFAULT_JOB_OPTIONS } from '../shared/jobs';
import { streamInfo } from '../core/testing/pictures';
import { isFullDisk, jobsWithoutRoom, memoryNeeded, spaceNeeded } from './room';

let held: TestArchive;
beforeAll(async () => (held = await TestArchive.open()));
afterAll(() => held.close());

describe('the room a job needs', () => {
  const film = streamInfo({ width: 720, height: 576, frames: 1000 });

  it('is that of its pieces and of all of them once more, and shrinks as pieces are made', () => {
    const master = { options: { ...DEFAULT_JOB_OPTIONS, access: false, original: false } };
    const raw = 720 * 576 * 1.5 * 1000;
    expect(spaceNeeded(film, master, 0, 5e9) / raw).toBeCloseTo(1.2);
    expect(spaceNeeded(film, master, 1000, 5e9) / raw).toBeCloseTo(0.6);
    expect(spaceNeeded(film, { options: DEFAULT_JOB_OPTIONS }, 0, 5e9)).toBeGreaterThan(5e9);
  });

  it('in memory grows with the frame', () => {
    expect(memoryNeeded(streamInfo({ width: 3840, height: 2160 }))).toBeGreaterThan(2 * memoryNeeded(film));
  });

  it('is waited for, said, and no more once it is there', async () => {
    const a = held.archive;
    const item = await held.itemIn((await createCollection(a, { name: 'Room' })).id, 9);
    const plan = { format: 'wairetic-plan', version: 2, steps: [] } as const;
    const segments = [{ first: 0, count: 1 }];
    const job = await createJob(a, {
      itemId: item.id,
      planVersion: 1,
      plan: { ...plan, steps: [] },
      options: DEFAULT_JOB_OPTIONS,
      frames: 1,
      segments,
    });
    expect(await jobsWithoutRoom(a, 1000)).toEqual([job.id]);
    expect((await findJob(a, job.id))?.message).toMatch(/^disk full: \d+\.\d GB needed/);
    expect(await jobsWithoutRoom(a, 1e12)).toEqual([]);
    expect((await findJob(a, job.id))?.message).toBe('');
  });

  it('is what errors of a full disk say, in whichever words', () => {
    expect(isFullDisk(Object.assign(new Error('write'), { code: 'ENOSPC' }))).toBe(true);
    expect(isFullDisk(new Error('The encoder stopped: av_interleaved_write_frame(): No space left on device.'))).toBe(true);
    expect(isFullDisk(new Error('broken'))).toBe(false);
  });
});
