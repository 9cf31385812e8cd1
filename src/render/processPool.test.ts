import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { TOOL_ENVIRONMENT } from '../media';
import { ProcessEnded, ProcessPool } from './processPool';

/** A process that does as it is told, also what broken decoders do. */
const ENTRY = `
process.on('message', ({ what }) => {
  if (what === 'crash') process.abort();
  if (what === 'hang') return;
  if (what === 'devour') for (const held = []; ; ) held.push(Buffer.alloc(64 << 20, 1));
  process.send(what === 'refuse' ? { problem: 'not that' } : { result: \`\${what} by \${process.pid}, home \${process.env.HOME}\` });
});
process.on('disconnect', () => process.exit());
`;

describe('a pool of processes', () => {
  let folder = '';
  const pools: ProcessPool<{ what: string }, string>[] = [];
  beforeEach(() => {
    folder = mkdtempSync(path.join(tmpdir(), 'wairetic-pool-'));
    writeFileSync(path.join(folder, 'entry.mjs'), ENTRY);
  });
  afterEach(() => {
    for (const pool of pools.splice(0)) pool.close();
    rmSync(folder, { recursive: true });
  });
  const pool = (processes: number, patience = 60_000): ProcessPool<{ what: string }, string> => {
    const entry = path.join(folder, 'entry.mjs');
    const made = new ProcessPool<{ what: string }, string>({
      entry,
      environment: TOOL_ENVIRONMENT,
      processes,
      memory: 512 << 20,
      patience,
    });
    pools.push(made);
    return made;
  };

  it('answers one after the other from one process, which is told nothing of the machine', async () => {
    const own = pool(1);
    const [a, b] = await Promise.all([own.run({ what: 'one' }), own.run({ what: 'two' })]);
    expect(a).toMatch(/^one by \d+, home undefined$/);
    expect(b).toBe(a.replace('one', 'two'));
  });

  it('tells what a process says of a task, and goes on with it', async () => {
    const own = pool(1);
    const before = await own.run({ what: 'one' });
    await expect(own.run({ what: 'refuse' })).rejects.toThrow('not that');
    expect(await own.run({ what: 'one' })).toBe(before);
  });

  it.each(['crash', 'devour'])('survives a process that ends in a task: %s', async (what) => {
    const own = pool(1);
    const failing = own.run({ what });
    await expect(failing).rejects.toBeInstanceOf(ProcessEnded);
    await expect(failing).rejects.toThrow(/its process ended \(.+\); it may take 0\.5 GiB/);
    expect(await own.run({ what: 'again' })).toMatch(/^again/);
  });

  it('ends what takes too long', async () => {
    await expect(pool(1, 300).run({ what: 'hang' })).rejects.toThrow('it took more than');
  });

  it('goes on with other tasks while one takes its time', async () => {
    const own = pool(2);
    void own.run({ what: 'hang' }).catch(() => undefined);
    for (const what of ['one', 'two', 'three']) expect(await own.run({ what })).toMatch(what);
  });
});
