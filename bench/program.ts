import { execFileSync } from 'node:child_process';
import path from 'node:path';

/** Seconds that the program takes on two threads, from its start to its end. */
export function program(...words: string[]): number {
  const start = performance.now();
  const env = { ...process.env, WAIRETIC_THREADS: '2' };
  execFileSync(path.resolve(import.meta.dirname, '../bin/wairetic'), words, { env });
  return (performance.now() - start) / 1000;
}
