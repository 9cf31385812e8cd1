import type { Piscina } from 'piscina';
import {
  Cancelled,
  outputStream,
  overBlackAndWhite,
  type Picture,
  planeRegion,
  putPart,
  type Region,
  type StreamInfo,
  tiledPicture,
  wholeRegion,
} from '../core';
import type { Plan } from '../shared/plan';
import type { OpenSource } from '../media';
import { runTask, threadCount } from './pool';
import { type SegmentTask, withGraph, writeCopies } from './segment';

/**
 * A still that several threads make together: a band of rows each, for what a thread remembers of one place serves the places beside it. Parts of a
 * picture are the same as in the whole, so it does not matter how many there are.
 */

/** Pixels from which a result is worth it that each thread reads the source, and beyond which several at once take too much memory. */
const LEAST_PIXELS = 3_000_000,
  MOST_PIXELS = 25_000_000;
/** Rows that bands are multiples of, where nothing is cut off above: of the cells that damage is mended in, each then lies in one band. */
const ROWS = 256;

/** Threads at most: each reads the source and keeps what it works with. */
const MAX_THREADS = 4;
/** Times as many pixels as a source a result often has. */
const ENLARGED = 4;

/** Threads that a still may be made by, told from the stream of its source or of its result. */
export function bandThreads({ width, height }: StreamInfo): number {
  const pixels = width * height;
  // Each thread takes memory, also one that has nothing to do.
  return ENLARGED * pixels < LEAST_PIXELS || pixels > MOST_PIXELS ? 1 : Math.min(MAX_THREADS, threadCount());
}

/** A picture whose samples threads share, plane by plane. */
export type SharedSamples = SharedArrayBuffer[];

/** One band of a still, to be made in a thread of its own. */
export interface BandTask extends Pick<SegmentTask, 'source' | 'plan' | 'shared'> {
  band: Region;
  samples: SharedSamples;
}

/** A still whose bands are all made, to be written. */
export interface BandedTask extends Pick<SegmentTask, 'source' | 'ppi' | 'master' | 'access' | 'shared'> {
  output: StreamInfo;
  samples: SharedSamples;
}

/** The bands in which so many threads make a still; one or none where it is better made in one. */
export function bandsOf(plan: Plan, output: StreamInfo, threads: number): Region[] {
  const { width, height } = output;
  const pixels = width * height;
  // What is seen through is made twice more, over black and over white.
  if (output.frames > 1 || pixels < LEAST_PIXELS || pixels > MOST_PIXELS || overBlackAndWhite(plan)) return [];
  const rows = Math.max(ROWS, Math.round(height / threads / ROWS) * ROWS);
  const bands: Region[] = [];
  for (let y = 0; y < height && bands.length < threads; y += rows) {
    const last = bands.length === threads - 1;
    bands.push({ x: 0, y, width, height: last ? height - y : Math.min(rows, height - y) });
  }
  return bands;
}

/** Room for a picture's samples. */
export const sharedSamples = (info: StreamInfo): SharedSamples =>
  planesOf(info).map(({ width, height }) => new SharedArrayBuffer(2 * width * height));

const planesOf = (info: StreamInfo): Region[] =>
  Array.from({ length: info.planes }, (_, index) => planeRegion(info, index, wholeRegion(info)));

/** The picture that lies in shared samples. */
const pictureIn = (samples: SharedSamples, info: StreamInfo): Picture => ({
  info,
  region: wholeRegion(info),
  planes: planesOf(info).map(({ width, height }, index) => ({ width, height, data: new Uint16Array(samples[index]) })),
});

/**
 * Makes one band.
 * @param opened its source, decoded already; it is closed.
 * @throws Cancelled when the caller said stop, or what decoding or treating threw.
 */
export const makeBand = (task: BandTask, opened?: OpenSource): Promise<void> =>
  withGraph(task, opened, async ({ graph, cancelled }) => {
    const goOn = (): void => {
      if (cancelled()) throw new Cancelled();
    };
    putPart(pictureIn(task.samples, graph.output.stream), await tiledPicture(graph.output, 0, { region: task.band, goOn }));
  });

/** Writes a still whose bands are made. */
export async function writeBanded({ output, samples, ...task }: BandedTask): Promise<void> {
  const shared = pictureIn(samples, output);
  // What encodes takes no memory that threads share.
  const own = { ...shared, planes: shared.planes.map((plane) => ({ ...plane, data: Uint16Array.from(plane.data) })) };
  await writeCopies(task, own);
  Atomics.store(new Int32Array(task.shared), 0, 1);
}

/**
 * Makes one piece of a render in a pool: a still in bands where that is worth it.
 * @param threads of the pool that may work at it.
 * @returns milliseconds it took.
 * @throws what a thread threw.
 */
export async function made(pool: Piscina, task: SegmentTask, threads: number): Promise<number> {
  const { source, plan, shared, monochrome } = task;
  const output = outputStream(plan, source.info);
  const bands = monochrome ? [] : bandsOf(plan, output, Math.min(MAX_THREADS, threads, pool.options.maxThreads));
  if (bands.length < 2) return (await runTask<{ milliseconds: number }>(pool, task)).milliseconds;
  const start = performance.now();
  const samples = sharedSamples(output);
  await Promise.all(bands.map((band) => runTask(pool, { source, plan, shared, band, samples } satisfies BandTask, 'bandOf')));
  await runTask(pool, { ...task, output, samples } satisfies BandedTask, 'writtenOf');
  return performance.now() - start;
}
