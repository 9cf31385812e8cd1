import os from 'node:os';
import path from 'node:path';
import { statSync } from 'node:fs';
import { type Analysis, archivePaths, readAnalysis } from '../archive';
import { applicationRoot } from '../core';
import { FRAME_SHARE, TOOL_ENVIRONMENT } from '../media';
import type { AnalysisTask } from './examiner';
import { threadCount } from './pool';
import { ProcessEnded, ProcessPool } from './processPool';

/** Measured at once at the most: while one takes long, others go on. */
const MAX_AT_ONCE = 2;
/** Milliseconds one may take before its process is ended; what goes on where it was left is begun anew. */
const PATIENCE_MS = 10 * 60_000;
/** How far measuring gives way to what is looked at. */
const GIVE_WAY = 10;
/** Times one is begun that ends its process without getting further. */
const MAX_TRIES = 2;

/** What is known of an analysis that is measured or was. */
export interface AnalysisState<T> {
  value?: T;
  /** Share that is measured, 0 to 1. */
  share: number;
  /** Seconds until all is measured, reckoned from how it went so far. */
  secondsLeft?: number;
  /** Why it stopped, where it did. */
  problem?: string;
}

interface Running {
  began: number;
  /** Share there was when it began. */
  from: number;
  done: Promise<void>;
}

interface Analysing {
  processes: ProcessPool<AnalysisTask, true>;
  /** What is measured or waits for it, and what went wrong, by the file it is kept in. */
  running: Map<string, Running>;
  problems: Map<string, string>;
}

declare global {
  var waireticAnalysing: Analysing | undefined;
}

function analysing(): Analysing {
  globalThis.waireticAnalysing ??= {
    processes: new ProcessPool({
      entry: path.join(/* turbopackIgnore: true */ applicationRoot(), 'dist', 'examiner.mjs'),
      environment: {
        ...TOOL_ENVIRONMENT,
        WAIRETIC_ROOT: applicationRoot(),
        WAIRETIC_HOME: archivePaths().root,
        ...(process.env.WAIRETIC_MODELS && { WAIRETIC_MODELS: process.env.WAIRETIC_MODELS }),
      },
      processes: Math.min(MAX_AT_ONCE, threadCount()),
      memory: os.totalmem() * FRAME_SHARE,
      patience: PATIENCE_MS,
      nice: GIVE_WAY,
    }),
    running: new Map(),
    problems: new Map(),
  };
  return globalThis.waireticAnalysing;
}

/** A task as whoever wants it measured describes it; asked for only when it is begun. */
type Describe = () => Promise<Omit<AnalysisTask, 'analysis' | 'file'>>;

/** How far an analysis is; its measuring is begun, or taken up where a restart cut it short. */
export async function analysisState<T>(analysis: Analysis<T>, file: string, describe: Describe): Promise<AnalysisState<T>> {
  const kept = await readAnalysis(file, analysis);
  if (kept?.share === 1) return { value: kept.value, share: 1 };
  const { running, problems } = analysing();
  const problem = problems.get(file);
  const under = problem === undefined ? (running.get(file) ?? begin(analysis, file, kept?.share ?? 0, describe)) : undefined;
  return { value: kept?.value, share: kept?.share ?? 0, problem, secondsLeft: under && secondsLeft(under, kept?.share ?? 0) };
}

/** The whole of an analysis; measured first where it is not there. @throws Error with what went wrong. */
export async function analysed<T>(analysis: Analysis<T>, file: string, describe: Describe): Promise<T> {
  const kept = await readAnalysis(file, analysis);
  if (kept?.share === 1) return kept.value;
  const { running, problems } = analysing();
  problems.delete(file);
  await (running.get(file) ?? begin(analysis, file, kept?.share ?? 0, describe)).done;
  const problem = problems.get(file);
  const made = problem === undefined ? await readAnalysis(file, analysis) : undefined;
  if (!made) throw new Error(problem ?? 'what was measured is gone');
  return made.value;
}

function secondsLeft({ began, from }: Running, share: number): number | undefined {
  const gone = (Date.now() - began) / 1000;
  return share > from ? (gone * (1 - share)) / (share - from) : undefined;
}

function begin<T>(analysis: Analysis<T>, file: string, from: number, describe: Describe): Running {
  const { running, problems } = analysing();
  const done = work(analysis, file, describe)
    .catch((error: Error) => void problems.set(file, error.message))
    .finally(() => running.delete(file));
  const begun = { began: Date.now(), from, done };
  running.set(file, begun);
  return begun;
}

async function work<T>(analysis: Analysis<T>, file: string, describe: Describe): Promise<void> {
  const { processes } = analysing();
  const task: AnalysisTask = { ...(await describe()), analysis: analysis.id, file };
  for (let tries = 1, share = sizeOf(file); ; tries++) {
    try {
      await processes.run(task);
      return;
    } catch (error) {
      if (!(error instanceof ProcessEnded)) throw error;
      // What got further may get to its end.
      const now = sizeOf(file);
      if (now > share) [tries, share] = [0, now];
      else if (tries >= MAX_TRIES) throw error;
    }
  }
}

const sizeOf = (file: string): number => statSync(file, { throwIfNoEntry: false })?.size ?? 0;
