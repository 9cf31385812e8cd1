import { randomBytes } from 'node:crypto';
import { constants } from 'node:fs';
import { access, copyFile, mkdtemp, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { Piscina } from 'piscina';
import { type DirtReading, outputStream, type StreamInfo, trim, TrimSettings, whatIsDone } from '../core';
import { type About, NOTHING_TOLD } from '../shared/about';
import type { StillSpace } from '../shared/jobs';
import type { Plan, PlanStep } from '../shared/plan';
import {
  assembleAccess,
  assembleMaster,
  matroskaTags,
  type MediaFacts,
  MediaError,
  type Probed,
  sha256File,
  type StillFormat,
  tryMetadata,
} from '../media';
import { bandThreads, made } from './bands';
import { programName } from './provenance';
import { runTask, threadCount, threadPool } from './pool';
import { measureFor } from './planAnalyses';
import type { DamageTask } from './renderThread';
import type { SegmentTask, SourceRef } from './segment';
import { splitFrames } from './segments';
import { keptTime } from './trimmed';

export interface TreatRequest {
  path: string;
  probed: Probed;
  /** The stream as measured. */
  info: StreamInfo;
  plan: Plan;
  output: string;
  /** Seconds of the source to treat. */
  from?: number;
  to?: number;
  progress?: (done: number, frames: number) => void;
  /** What is told of it, for the output's metadata. */
  about?: Partial<About>;
  /** Space of a still's colours in TIFF and PNG. */
  space?: StillSpace;
  signal?: AbortSignal;
  /** Folder of the pictures that the plan lays in. */
  marks?: string;
  /** The source as an archive has it; worked on by itself where left out. */
  source?: SourceRef;
  /** Threads that were started ahead; they end with the treatment. */
  threads?: Piscina;
}

/** Starts what treats a still ahead: loading it takes as long as measuring a small one. */
export const stillThreads = (info: StreamInfo): Piscina => threadPool('render-thread', bandThreads(info));

/** Measures the damage of a still in the thread that will treat it. */
export const damageIn = (threads: Piscina, file: string, probed: Probed): Promise<DirtReading> =>
  runTask(threads, { path: path.resolve(file), probed } satisfies DamageTask, 'damageOf');

/** What an ending asks for. */
function outputKind(file: string): 'master' | 'access' {
  const ending = path.extname(file).toLowerCase();
  if (['.mkv', '.tif', '.tiff', '.png'].includes(ending)) return 'master';
  if (['.mp4', '.jpg', '.jpeg', '.webp', '.avif'].includes(ending)) return 'access';
  throw new MediaError(
    `The ending ${ending || '(none)'} is not known: .mkv and .mp4 for moving images, .tif, .png, .jpg, .webp and .avif for stills.`,
  );
}

const STILL_KINDS: Record<string, StillFormat['kind']> = {
  ...{ '.png': 'png', '.tif': 'tiff', '.tiff': 'tiff', '.jpg': 'jpeg', '.jpeg': 'jpeg', '.webp': 'webp', '.avif': 'avif' },
};

/** Format of a still by its ending; of a moving image it is of no use. */
const stillFormat = (file: string, space?: StillSpace): StillFormat => {
  const kind = STILL_KINDS[path.extname(file).toLowerCase()] ?? 'tiff';
  return { kind, space: kind === 'tiff' || kind === 'png' ? (space ?? 'source') : 'srgb' };
};

/**
 * That a file can be written in the end, asked before any long work.
 * @throws MediaError when its ending does not fit the source, when there is such a file, or when its folder cannot be written to.
 */
export async function checkOutput(output: string, kind: MediaFacts['kind']): Promise<void> {
  outputKind(output);
  if ((kind === 'still') !== path.extname(output).toLowerCase() in STILL_KINDS)
    throw new MediaError(`A ${kind === 'still' ? 'still' : 'moving image'} cannot be written as ${path.basename(output)}.`);
  const present = await stat(output).then(
    () => true,
    () => false,
  );
  if (present) throw new MediaError(`${output} exists already; nothing is overwritten.`);
  const folder = path.dirname(path.resolve(output));
  await access(folder, constants.W_OK).catch(() => {
    throw new MediaError(`The folder ${folder} cannot be written to.`);
  });
}

/**
 * Treats one file without an archive, over all threads. The output must not exist; it appears when it is whole.
 * @returns what became of the tracks, in words.
 */
export async function treatFile(request: TreatRequest): Promise<string[]> {
  const { probed, info } = request;
  const kind = outputKind(request.output);
  const still = probed.facts.kind === 'still';
  await checkOutput(request.output, probed.facts.kind);
  const plan: Plan = { ...request.plan, steps: [...rangeStep(request), ...request.plan.steps] };
  const output = outputStream(plan, info);
  const folder = path.dirname(path.resolve(request.output));
  const work = await mkdtemp(path.join(folder, '.wairetic-'));
  const parts = splitFrames(output);
  const pool = request.threads ?? threadPool('render-thread', still ? bandThreads(output) : Math.min(threadCount(), parts.length));
  try {
    const ref: SourceRef = request.source ?? { ...(await sourceAlone(request)), derived: work };
    await measureFor({ describe: () => Promise.resolve(ref), info, key: ref.key, derived: ref.derived ?? work }, plan);
    const shared = new SharedArrayBuffer(8);
    const state = new Int32Array(shared);
    request.signal?.addEventListener('abort', () => Atomics.store(state, 1, 1), { once: true });
    const beat = setInterval(() => request.progress?.(Atomics.load(state, 0), output.frames), 500);
    const pieces = parts.map(({ first, count }, n) => {
      const file = path.join(work, `${n}${still ? path.extname(request.output) : '.nut'}`);
      const task: SegmentTask = {
        source: ref,
        plan,
        first,
        count,
        ppi: 300,
        shared,
        ...(kind === 'master'
          ? { master: { path: file, still: stillFormat(request.output, request.space) } }
          : { access: { path: file, still: stillFormat(request.output, request.space) } }),
      };
      return { file, count, done: made(pool, task, threadCount()) };
    });
    try {
      await Promise.all(pieces.map((p) => p.done));
    } finally {
      clearInterval(beat);
    }
    request.progress?.(output.frames, output.frames);
    const joined = path.join(work, `joined-${randomBytes(4).toString('hex')}${path.extname(request.output)}`);
    const told = {
      about: { ...NOTHING_TOLD, ...request.about },
      done: whatIsDone(plan, info).join('\n'),
      program: await programName(),
    };
    let notes: string[] = [];
    let beside: string[] = [];
    if (still) await rename(pieces[0].file, joined);
    else {
      const assemble = kind === 'master' ? assembleMaster : assembleAccess;
      ({ notes, beside } = await assemble({
        pieces: pieces.map((p) => ({ path: p.file, frames: p.count })),
        listFile: path.join(work, 'pieces.ffconcat'),
        info: output,
        source: path.resolve(request.path),
        facts: probed.facts,
        kept: keptTime(plan, info, probed.facts.part?.frames !== undefined),
        ...(kind === 'master' && { metadata: matroskaTags(told) }),
        output: joined,
      }));
    }
    if (still || kind === 'access')
      notes.push(...(await tryMetadata({ ...told, file: joined, ...(still && { source: path.resolve(request.path) }) })));
    await copyFile(joined, request.output, constants.COPYFILE_EXCL);
    for (const file of beside) {
      const name = path
        .basename(file)
        .replace(path.basename(joined, path.extname(joined)), path.basename(request.output, path.extname(request.output)));
      await copyFile(file, path.join(folder, name), constants.COPYFILE_EXCL);
    }
    return notes;
  } finally {
    await pool.destroy();
    await rm(work, { recursive: true, force: true });
  }
}

const sourceAlone = async ({ path: file, probed, info, marks }: TreatRequest): Promise<SourceRef> => ({
  ...{ path: path.resolve(file), key: await sha256File(file), probed, info, marks },
});

/** A trim before the plan for the seconds that were asked for. */
function rangeStep({ from, to, info }: TreatRequest): PlanStep[] {
  if (from === undefined && to === undefined) return [];
  if (info.frames <= 1) throw new MediaError('A still has no running time: --from and --to are for moving images.');
  const rate = info.rate.num / info.rate.den;
  const first = Math.round((from ?? 0) * rate);
  const last = to === undefined ? info.frames - 1 : Math.min(info.frames, Math.round(to * rate)) - 1;
  if (first > last)
    throw new MediaError(
      `Nothing lies between ${from ?? 0} s and ${to ?? 'the end'}: the film lasts ${(info.frames / rate).toFixed(2)} s.`,
    );
  return [{ id: 'range', treatment: trim.id, on: true, settings: { ...new TrimSettings(), first, last } }];
}
