import os from 'node:os';
import path from 'node:path';
import { Piscina } from 'piscina';
import { applicationRoot, errorOf, isFailure } from '../core';

/** Threads work is spread over; WAIRETIC_THREADS overrides the number of cores. */
export function threadCount(): number {
  const asked = Number(process.env.WAIRETIC_THREADS);
  return Number.isInteger(asked) && asked > 0 ? asked : Math.max(1, os.availableParallelism());
}

/** A pool of threads running one of the bundled entries in `dist/`. */
export function threadPool(entry: 'render-thread' | 'proof-thread' | 'people-thread', threads: number): Piscina {
  return new Piscina({
    filename: path.join(/* turbopackIgnore: true */ applicationRoot(), 'dist', `${entry}.mjs`),
    minThreads: threads,
    maxThreads: threads,
    concurrentTasksPerWorker: 1,
    idleTimeout: Infinity,
  });
}

/**
 * Runs a task in a pool.
 * @param name of what the entry exports; its own when left out.
 * @throws what the thread threw, with its code.
 */
export async function runTask<R>(pool: Piscina, task: object, name?: string): Promise<R> {
  const answer: unknown = await pool.run(task, { name });
  if (isFailure(answer)) throw errorOf(answer);
  return answer as R;
}
