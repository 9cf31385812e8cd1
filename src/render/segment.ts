import { PictureCache } from '../core/plan/cache';
import { Cancelled, PlanRun } from '../core/plan/executor';
import { readySteps, type Plan } from '../core/plan/plan';
import { wholePicture } from '../core/plan/whole';
import { wholeRegion, type StreamInfo } from '../core/picture/picture';
import { accessCodec, masterCodec, VideoEncoder, type EncoderOutput } from '../media/encode';
import { openSource } from '../media/openSource';
import type { Probed } from '../media/probe';
import { writeStill, type StillFormat } from '../media/stillOutput';

/** A source as a thread gets it. */
export interface SourceRef {
  path: string;
  /** Its checksum. */
  key: string;
  probed: Probed;
  /** The stream as measured. */
  info: StreamInfo;
}

/** One piece of a render: output frames `first` to `first + count - 1` of a plan. */
export interface SegmentTask {
  source: SourceRef;
  plan: Plan;
  first: number;
  count: number;
  /** Files to write; they must not exist. */
  master?: { path: string; still: StillFormat };
  access?: { path: string };
  ppi: number;
  /** Two 32-bit numbers shared with the caller: frames done, and 1 to stop. */
  shared: SharedArrayBuffer;
}

/** Results kept while a piece is made: windows of neighbouring frames at HD fit well inside. */
const CACHE_BYTES = 160 << 20;

/**
 * Makes one piece.
 * @returns milliseconds each step took and frames it made.
 * @throws Cancelled when the caller said stop, or what decoding, treating or encoding threw.
 */
export async function renderSegment(
  task: SegmentTask,
): Promise<{ milliseconds: number; steps: { id: string; milliseconds: number; frames: number }[] }> {
  const state = new Int32Array(task.shared);
  const cancelled = (): boolean => Atomics.load(state, 1) === 1;
  const start = performance.now();
  const { path, key, probed, info } = task.source;
  const source = await openSource(path, key, probed, info);
  const steps = readySteps(task.plan);
  const run = new PlanRun(source, steps, { cache: new PictureCache(CACHE_BYTES), cancelled });
  try {
    if (probed.facts.kind === 'still') await renderStill(task, run, state);
    else await renderFrames(task, run, state, cancelled);
  } finally {
    source.close?.();
  }
  return {
    milliseconds: performance.now() - start,
    steps: steps.map(({ id }, i) => ({ id, milliseconds: run.spent[i].milliseconds, frames: run.spent[i].frames })),
  };
}

async function renderStill(task: SegmentTask, run: PlanRun, state: Int32Array): Promise<void> {
  const picture = await wholePicture(run, 0);
  if (task.master) await writeStill(picture, task.master.path, task.master.still, task.ppi);
  if (task.access) await writeStill(picture, task.access.path, 'jpeg', task.ppi);
  Atomics.store(state, 0, 1);
}

async function renderFrames(task: SegmentTask, run: PlanRun, state: Int32Array, cancelled: () => boolean): Promise<void> {
  const info = run.output;
  const outputs: EncoderOutput[] = [];
  if (task.master) outputs.push({ path: task.master.path, format: 'matroska', codec: masterCodec(info) });
  if (task.access) outputs.push({ path: task.access.path, format: 'nut', codec: accessCodec(info) });
  const encoder = new VideoEncoder(info, outputs);
  try {
    for (let n = task.first; n < task.first + task.count; n++) {
      if (cancelled()) throw new Cancelled();
      await encoder.write(await run.picture(n, wholeRegion(info)));
      Atomics.add(state, 0, 1);
    }
    await encoder.finish();
  } catch (error) {
    await encoder.abort();
    throw error;
  }
}
