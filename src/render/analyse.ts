import os from 'node:os';
import path from 'node:path';
import { statSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { type Analysis, archivePaths, keepAnalysis, type Piece, pieceFile, readAnalysis } from '../archive';
import { applicationRoot, type StreamInfo } from '../core';
import { FRAME_SHARE, TOOL_ENVIRONMENT } from '../media';
import type { AnalysisTask } from './examiner';
import { threadCount } from './pool';
import { ProcessEnded, ProcessPool } from './processPool';

/** Measured in one go at the same time at the most: while one takes long, others go on. */
const MAX_AT_ONCE = 2;
/** Milliseconds one may take before its process is ended; what goes on where it was left is begun anew. */
const PATIENCE_MS = 10 * 60_000;
/** Bytes of memory that a process of one of the pieces may take at the least. */
const PIECE_BYTES = 3 * 2 ** 29;
/** How far measuring gives way to what is looked at. */
const GIVE_WAY = 19;
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

/** An analysis of one node. */
export interface WantedAnalysis<T> {
  analysis: Analysis<T>;
  /** Where it is kept. */
  file: string;
  /** The node's stream. */
  stream: StreamInfo;
  /** What is measured, as the process gets it; asked for only when it is begun. */
  describe: () => Promise<Pick<AnalysisTask, 'source' | 'of'>>;
}

interface Running {
  began: number;
  /** Share there was when it began. */
  from: number;
  done: Promise<void>;
}

interface Analysing {
  /** For what is measured in one go: it may need much memory. */
  whole: ProcessPool<AnalysisTask, true>;
  /** For pieces, on all threads; what is measured in one go does not wait for them. */
  pieces: ProcessPool<AnalysisTask, true>;
  /** What is measured or waits for it, and what went wrong, by the file it is kept in. */
  running: Map<string, Running>;
  problems: Map<string, string>;
}

declare global {
  var waireticAnalysing: Analysing | undefined;
}

const poolOf = (processes: number, memory: number): ProcessPool<AnalysisTask, true> =>
  new ProcessPool({
    entry: path.join(/* turbopackIgnore: true */ applicationRoot(), 'dist', 'examiner.mjs'),
    environment: {
      ...TOOL_ENVIRONMENT,
      WAIRETIC_ROOT: applicationRoot(),
      WAIRETIC_HOME: archivePaths().root,
      ...(process.env.WAIRETIC_MODELS && { WAIRETIC_MODELS: process.env.WAIRETIC_MODELS }),
    },
    processes,
    memory,
    patience: PATIENCE_MS,
    nice: GIVE_WAY,
  });

function analysing(): Analysing {
  globalThis.waireticAnalysing ??= {
    whole: poolOf(Math.min(MAX_AT_ONCE, threadCount()), os.totalmem() * FRAME_SHARE),
    pieces: poolOf(threadCount(), Math.max(PIECE_BYTES, (os.totalmem() * FRAME_SHARE) / threadCount())),
    running: new Map(),
    problems: new Map(),
  };
  return globalThis.waireticAnalysing;
}

/** How far an analysis is; its measuring is begun, or taken up where a restart cut it short. */
export async function analysisState<T>(wanted: WantedAnalysis<T>): Promise<AnalysisState<T>> {
  const { value, share } = await readSoFar(wanted);
  if (share === 1) return { value, share };
  const { running, problems } = analysing();
  const problem = problems.get(wanted.file);
  const under = problem === undefined ? (running.get(wanted.file) ?? begin(wanted, share)) : undefined;
  return { value, share, problem, secondsLeft: under && secondsLeft(under, share) };
}

/** The whole of an analysis; measured first where it is not there. @throws Error with what went wrong. */
export async function analysed<T>(wanted: WantedAnalysis<T>): Promise<T> {
  const { analysis, file } = wanted;
  const kept = await readAnalysis(file, analysis);
  if (kept?.share === 1) return kept.value;
  const { running, problems } = analysing();
  problems.delete(file);
  await (running.get(file) ?? begin(wanted, (await readSoFar(wanted)).share)).done;
  const problem = problems.get(file);
  const made = problem === undefined ? await readAnalysis(file, analysis) : undefined;
  if (!made) throw new Error(problem ?? 'what was measured is gone');
  return made.value;
}

/** Pieces an analysis is measured in; none where it is measured in one go. */
function piecesOf<T>({ analysis, stream }: WantedAnalysis<T>): Piece[] {
  const count = analysis.pieces?.count(stream) ?? 1;
  return count > 1 ? Array.from({ length: count }, (_, index) => ({ index, count })) : [];
}

/** What is measured of an analysis, from its pieces where it is not whole. */
async function readSoFar<T>(wanted: WantedAnalysis<T>): Promise<{ value?: T; share: number }> {
  const { analysis, file } = wanted;
  const kept = await readAnalysis(file, analysis);
  const pieces = piecesOf(wanted);
  if (kept?.share === 1 || !analysis.pieces || !pieces.length) return kept ?? { share: 0 };
  const read = await Promise.all(pieces.map((piece) => readAnalysis(pieceFile(file, piece), analysis)));
  const share = read.reduce((sum, piece) => sum + (piece?.share ?? 0), 0) / pieces.length;
  // All pieces are there, and the whole is not yet.
  const value = read.some((piece) => piece) ? analysis.pieces.join(read.map((piece) => piece?.value)) : undefined;
  return { value, share: Math.min(share, 0.999) };
}

function secondsLeft({ began, from }: Running, share: number): number | undefined {
  const gone = (Date.now() - began) / 1000;
  return share > from ? (gone * (1 - share)) / (share - from) : undefined;
}

function begin<T>(wanted: WantedAnalysis<T>, from: number): Running {
  const { running, problems } = analysing();
  const done = work(wanted)
    .catch((error: Error) => void problems.set(wanted.file, error.message))
    .finally(() => running.delete(wanted.file));
  const begun = { began: Date.now(), from, done };
  running.set(wanted.file, begun);
  return begun;
}

async function work<T>(wanted: WantedAnalysis<T>): Promise<void> {
  const { analysis, file, describe } = wanted;
  const task: AnalysisTask = { ...(await describe()), analysis: analysis.id, file };
  const pieces = piecesOf(wanted);
  if (!analysis.pieces || !pieces.length) return measured(analysing().whole, task);
  await inLanes(pieces, threadCount(), async (piece) => {
    const own = pieceFile(file, piece);
    if ((await readAnalysis(own, analysis))?.share !== 1) await measured(analysing().pieces, { ...task, piece, file: own });
  });
  const made = await Promise.all(pieces.map((piece) => readAnalysis(pieceFile(file, piece), analysis)));
  if (made.some((piece) => piece?.share !== 1)) throw new Error('a piece of what was measured is gone');
  await keepAnalysis(file, analysis, { value: analysis.pieces.join(made.map((piece) => piece?.value)), share: 1 });
  await Promise.all(pieces.map((piece) => rm(pieceFile(file, piece), { force: true })));
}

/** Does work for each of a list, so many at once; after one that failed, none is begun. @throws what the first of them threw. */
async function inLanes<V>(list: V[], lanes: number, doWork: (value: V) => Promise<void>): Promise<void> {
  const left = [...list];
  const lane = async (): Promise<void> => {
    for (let next = left.shift(); next !== undefined; next = left.shift()) {
      try {
        await doWork(next);
      } catch (error) {
        left.length = 0;
        throw error;
      }
    }
  };
  const ends = await Promise.allSettled(Array.from({ length: Math.min(lanes, list.length) }, lane));
  const failed = ends.find((end) => end.status === 'rejected');
  if (failed) throw failed.reason;
}

/** Runs one task; once more where its process ended. */
async function measured(processes: ProcessPool<AnalysisTask, true>, task: AnalysisTask): Promise<void> {
  for (let tries = 1, size = sizeOf(task.file); ; tries++) {
    try {
      await processes.run(task);
      return;
    } catch (error) {
      if (!(error instanceof ProcessEnded)) throw error;
      // What got further may get to its end.
      const now = sizeOf(task.file);
      if (now > size) [tries, size] = [0, now];
      else if (tries >= MAX_TRIES) throw error;
    }
  }
}

const sizeOf = (file: string): number => statSync(file, { throwIfNoEntry: false })?.size ?? 0;
