import { fork, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { archive } from '../archive';
import { applicationRoot } from '../core';

/** Milliseconds before a worker that died is started again, and the most it grows to when it keeps dying. */
const FIRST_WAIT = 500;
const LONGEST_WAIT = 30_000;

declare global {
  var waireticWorker: { child?: ChildProcess } | undefined;
}

/** Starts the worker process and keeps it running; a crash costs the pieces it held, which go back at once. */
export function superviseWorker(): void {
  if (globalThis.waireticWorker) return;
  const state: { child?: ChildProcess } = {};
  globalThis.waireticWorker = state;
  let wait = FIRST_WAIT;
  const start = (): void => {
    const owner = randomUUID();
    const began = Date.now();
    const child = fork(path.join(/* turbopackIgnore: true */ applicationRoot(), 'dist', 'worker.mjs'), [], {
      env: { ...process.env, WAIRETIC_WORKER: owner, WAIRETIC_ROOT: applicationRoot() },
      execArgv: [],
    });
    state.child = child;
    child.on('exit', (code, signal) => {
      wait = Date.now() - began > 60_000 ? FIRST_WAIT : Math.min(LONGEST_WAIT, wait * 2);
      console.error(`the render worker ended (${signal ?? code}); its pieces go back and another starts`);
      void releaseAll(owner).finally(() => setTimeout(start, wait));
    });
  };
  start();
}

async function releaseAll(owner: string): Promise<void> {
  const { db } = await archive();
  await db('segments').where({ owner, state: 'leased' }).update({ state: 'waiting', owner: null, frames_done: 0 });
  // A server has one worker: what it was putting together nobody else is.
  await db('jobs').where({ state: 'running' }).whereNotNull('finish_token').update({ finish_token: null, finish_until: 0 });
}
