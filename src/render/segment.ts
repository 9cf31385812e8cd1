import {
  Cancelled,
  compile,
  forgetAll,
  type Graph,
  type Node,
  monochromePlan,
  overBlackAndWhite,
  type Picture,
  PictureCache,
  PlanError,
  type StreamInfo,
  tiledPicture,
  wholeRegion,
} from '../core';
import { stepsOn, type Plan } from '../shared/plan';
import {
  accessCodec,
  type EncoderOutput,
  masterCodec,
  openSource,
  type OpenSource,
  type Probed,
  type StillDetails,
  type StillFormat,
  VideoEncoder,
  writeStill,
} from '../media';
import { letGo } from './letGo';
import { resourcesOf } from './resources';

/** A source as a thread gets it. */
export interface SourceRef {
  path: string;
  /** Its checksum. */
  key: string;
  probed: Probed;
  /** The stream as measured. */
  info: StreamInfo;
  /** Folder of the archive's marks; none outside of an archive. */
  marks?: string;
  /** The archive's folder of files that can be made again. */
  derived?: string;
}

/** One piece of a render: output frames `first` to `first + count - 1` of a plan. */
export interface SegmentTask {
  source: SourceRef;
  plan: Plan;
  first: number;
  count: number;
  /** Files to write; they must not exist. */
  master?: { path: string; still: StillFormat };
  /** `still` as JPEG where it is left out. */
  access?: { path: string; still?: StillFormat };
  /** The master without the colours that its plan adds. */
  monochrome?: { path: string; still: StillFormat };
  ppi: number;
  /** Two 32-bit numbers shared with the caller: frames done, and 1 to stop. */
  shared: SharedArrayBuffer;
}

/** Results kept while a piece is made: of films windows of neighbouring frames at HD fit well inside, of stills some tiles. */
const CACHE_BYTES = { moving: 160 << 20, still: 64 << 20 };

/**
 * Makes one piece.
 * @param opened its source, of which a still was decoded already; it is closed.
 * @returns milliseconds each step took and frames it made.
 * @throws Cancelled when the caller said stop, or what decoding, treating or encoding threw.
 */
export async function renderSegment(
  task: SegmentTask,
  opened?: OpenSource,
): Promise<{ milliseconds: number; steps: { id: string; milliseconds: number; frames: number }[] }> {
  const start = performance.now();
  return withGraph(task, opened, async (work) => {
    if (task.source.probed.facts.kind === 'still') await renderStill(task, work);
    else await renderFrames(task, work);
    return {
      milliseconds: performance.now() - start,
      steps: stepsOn(task.plan).map(({ id }) => {
        const { milliseconds, frames } = work.graph.node(id)?.spent ?? { milliseconds: 0, frames: 0 };
        return { id, milliseconds, frames };
      }),
    };
  });
}

/** Works with what a plan makes of a source, which is closed in the end. */
export async function withGraph<T>(
  { source: ref, plan: own, shared }: Pick<SegmentTask, 'source' | 'plan' | 'shared'>,
  opened: OpenSource | undefined,
  work: (work: Work) => Promise<T>,
): Promise<T> {
  const state = new Int32Array(shared);
  const cancelled = (): boolean => Atomics.load(state, 1) === 1;
  const { path, key, probed, info } = ref;
  const source = opened ? knownAs(opened, key) : await openSource(path, key, probed, info);
  try {
    const cache = new PictureCache(CACHE_BYTES[probed.facts.kind]);
    const compiled = (plan: Plan): Graph => compile(plan, source, { cache, cancelled, ...resourcesOf(ref) });
    const graph = compiled(own);
    const [missing] = graph.missing;
    if (missing) throw new PlanError(`${missing.analysis} is not measured yet.`);
    const release = (): void => {
      source.close?.();
      cache.clear();
      forgetAll();
    };
    return await work({ graph, compiled, state, cancelled, release });
  } finally {
    source.close?.();
  }
}

/** An open source under another key. */
const knownAs = (source: OpenSource, key: string): OpenSource => ({
  info: source.info,
  key,
  codedStep: source.codedStep,
  frame: (n, region) => source.frame(n, region),
  close: () => source.close?.(),
});

interface Work {
  graph: Graph;
  compiled(plan: Plan): Graph;
  state: Int32Array;
  /** Whether the caller said stop. */
  cancelled(): boolean;
  /** Lets go of the source's picture and of what was made on the way: beside a large result there is no room for them. */
  release(): void;
}

/** Pixels from which a picture's memory is wanted back before it is written. */
const LARGE_PIXELS = 40_000_000;

async function renderStill(task: SegmentTask, { graph, compiled, state, release }: Work): Promise<void> {
  const both = overBlackAndWhite(task.plan);
  const picture = await tiledPicture(graph.output, 0);
  const over = both && {
    black: await tiledPicture(compiled(both.black).output, 0),
    white: await tiledPicture(compiled(both.white).output, 0),
  };
  const plain = task.monochrome && monochromePlan(task.plan);
  const monochrome = plain && (await tiledPicture(compiled(plain).output, 0));
  release();
  if (picture.region.width * picture.region.height > LARGE_PIXELS) letGo();
  if (task.monochrome && monochrome)
    await writeStill(monochrome, task.monochrome.path, task.monochrome.still, { ppi: task.ppi, facts: task.source.probed.facts });
  await writeCopies(task, picture, over);
  Atomics.store(state, 0, 1);
}

/** Writes a still as its task wants it. @param over as `writeStill` takes it. */
export async function writeCopies(
  { source, ppi, master, access }: Pick<SegmentTask, 'source' | 'ppi' | 'master' | 'access'>,
  picture: Picture,
  over?: StillDetails['over'],
): Promise<void> {
  const details = { ppi, over, facts: source.probed.facts };
  if (master) await writeStill(picture, master.path, master.still, details);
  if (access) await writeStill(picture, access.path, access.still ?? { kind: 'jpeg' }, details);
}

async function renderFrames(task: SegmentTask, { graph, compiled, state, cancelled }: Work): Promise<void> {
  const plain = task.monochrome && monochromePlan(task.plan);
  const made: { node: Node; encoder: VideoEncoder }[] = [];
  const encode = (node: Node, outputs: EncoderOutput[]): void => {
    if (outputs.length) made.push({ node, encoder: new VideoEncoder(node.stream, outputs) });
  };
  const master = (path: string, { stream }: Node): EncoderOutput => ({ path, format: 'matroska', codec: masterCodec(stream) });
  const { output } = graph;
  encode(output, [
    ...(task.master ? [master(task.master.path, output)] : []),
    ...(task.access ? [{ path: task.access.path, format: 'nut' as const, codec: accessCodec(output.stream) }] : []),
  ]);
  if (task.monochrome && plain) {
    const node = compiled(plain).output;
    encode(node, [master(task.monochrome.path, node)]);
  }
  try {
    for (let n = task.first; n < task.first + task.count; n++) {
      if (cancelled()) throw new Cancelled();
      for (const { node, encoder } of made) await encoder.write(await node.frame(n, wholeRegion(node.stream)));
      Atomics.add(state, 0, 1);
    }
    for (const { encoder } of made) await encoder.finish();
  } catch (error) {
    for (const { encoder } of made) await encoder.abort();
    throw error;
  }
}
