import { constants } from 'node:fs';
import { copyFile, mkdir, open, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import {
  type Archive,
  type Collection,
  type Deliverable,
  type DeliverableKind,
  findCollection,
  findItem,
  type FinishLease,
  type Item,
  type Job,
  jobNotes,
  listDeliveries,
  measuredStream,
  pathInside,
  recordDelivery,
  resetSegment,
  safeName,
  segmentFiles,
  sourcePath,
  UNFINISHED_STATES,
} from '../archive';
import { monochromePlan, outputStream, whatIsDone } from '../core';
import {
  assembleAccess,
  assembleMaster,
  type AssembleRequest,
  fileArgument,
  matroskaTags,
  MediaError,
  type MetadataRequest,
  runTool,
  SAFE_PROTOCOLS,
  sha256File,
  tryMetadata,
} from '../media';
import { namedPeople } from './namedPeople';
import { deliverableNames } from './names';
import { programName, provenanceRecord } from './provenance';
import { keptTime } from './trimmed';

export const workFolder = (a: Archive, jobId: string): string => path.join(a.paths.work, jobId);

/** Raised when pieces were lost and the job must go on making them. */
export class PiecesLost extends Error {}

/**
 * Puts a job's pieces together and hands them over: original, master, access copy, provenance, all in a new folder that
 * appears whole or not at all. Nothing that exists is replaced.
 */
export async function finishJob(a: Archive, { job, token }: FinishLease): Promise<void> {
  const staging = stagingFolder(a, job.id);
  try {
    await handOver(a, job, token, staging);
  } catch (error) {
    // What is recorded only waits for its name.
    if ((await listDeliveries(a, { jobId: job.id })).length === 0) await rm(staging, { recursive: true, force: true });
    throw error;
  }
}

const stagingFolder = (a: Archive, jobId: string): string => path.join(a.paths.deliveries, `${MAKING}${jobId}`);

/** How folders are called that are not handed over yet. */
const MAKING = '.making-';

/** Gives deliveries that were recorded just before a crash their names, and removes what jobs that ended otherwise left behind. */
export async function tidyDeliveries(a: Archive): Promise<void> {
  for (const name of await readdir(a.paths.deliveries)) {
    if (!name.startsWith(MAKING)) continue;
    const jobId = name.slice(MAKING.length);
    const [delivery] = await listDeliveries(a, { jobId });
    if (delivery) await giveName(a, jobId, delivery.folder);
    else if (!(await isGoing(a, jobId))) await rm(path.join(a.paths.deliveries, name), { recursive: true, force: true });
  }
}

async function isGoing({ db }: Archive, id: string): Promise<boolean> {
  return (await db('jobs').where({ id }).whereIn('state', UNFINISHED_STATES).first('id')) !== undefined;
}

async function giveName(a: Archive, jobId: string, folder: string): Promise<void> {
  const full = pathInside(a.paths.deliveries, folder);
  await mkdir(path.dirname(full), { recursive: true });
  await rename(stagingFolder(a, jobId), full);
}

/** A file that is to be handed over, still in the staging folder. */
interface MadeFile {
  kind: DeliverableKind;
  path: string;
  note: string;
}

async function handOver(a: Archive, job: Job, token: string, staging: string): Promise<void> {
  const item = (await findItem(a, job.itemId)) as Item;
  const collection = (await findCollection(a, item.collectionId)) as Collection;
  const source = sourcePath(a, item);
  if ((await sha256File(source)) !== item.source.sha256)
    throw new MediaError('The original is no longer what was taken in: its checksum differs. Nothing was delivered.');
  const pieces = await verifiedPieces(a, job);
  await rm(staging, { recursive: true, force: true });
  await mkdir(staging, { recursive: true });
  const words = { collection: collection.name, item: item.name, date: job.created.slice(0, 10) };
  const files: MadeFile[] = [];
  const notes: string[] = [...item.facts.damage, ...item.facts.notes, ...(await jobNotes(a, job.id))];
  const names = deliverableNames(item, words, job.options);
  const told = await toldOf(a, item, job);
  const name = (kind: 'master' | 'monochrome' | 'access' | 'provenance'): string => path.join(staging, names[kind]);
  if (job.options.original) {
    const to = path.join(staging, names.original);
    await copyFile(source, to, constants.COPYFILE_EXCL);
    files.push({ kind: 'original', path: to, note: 'untouched, as it was taken in' });
  }
  if (item.kind === 'still') {
    const [piece] = pieces;
    for (const kind of ['master', 'monochrome', 'access'] as const) {
      const from = piece.files[kind];
      if (!from || (kind !== 'monochrome' && !job.options[kind])) continue;
      const to = name(kind);
      await copyFile(path.join(workFolder(a, job.id), from), to, constants.COPYFILE_EXCL);
      notes.push(...(await tryMetadata({ ...toldWithout(kind, told, item, job), file: to, source })));
      const note = kind === 'monochrome' ? WITHOUT_COLOURS : '';
      files.push({ kind, path: to, note: `${note}${job.options.ppi} pixels an inch` });
    }
    files.push(...(await writePapers(a, job, item, { master: piece.files.master, place: (key) => path.join(staging, names[key]) })));
  } else {
    const made = await assembleMoving(a, job, item, pieces, { name, told });
    files.push(...made.files);
    notes.push(...made.notes);
  }
  if ((await sha256File(source)) !== item.source.sha256)
    throw new MediaError('The original changed while it was worked on. Nothing was delivered.');
  const listed: Deliverable[] = [];
  for (const file of files)
    listed.push({
      kind: file.kind,
      fileName: path.basename(file.path),
      bytes: (await stat(file.path)).size,
      sha256: await sha256File(file.path),
      note: file.note,
    });
  const record = await provenanceRecord(job, item, collection, listed, notes);
  const recordPath = name('provenance');
  await writeFile(recordPath, `${JSON.stringify(record, null, 2)}\n`, { flag: 'wx' });
  listed.push({
    kind: 'provenance',
    fileName: path.basename(recordPath),
    bytes: (await stat(recordPath)).size,
    sha256: await sha256File(recordPath),
    note: 'what was done, with checksums',
  });
  for (const file of listed) await syncFile(path.join(staging, file.fileName));
  const folder = await recordDelivery(a, {
    jobId: job.id,
    token,
    itemId: item.id,
    folders: await freeFolders(a, collection, item),
    notes,
    files: listed,
  });
  await giveName(a, job.id, folder);
}

/** What is said of the second master of a plan that adds colours. */
const WITHOUT_COLOURS = 'the master without the colours that were added, ';

/** What is written into files beside their pictures. */
type Told = Omit<MetadataRequest, 'file' | 'source'>;

const toldOf = async (a: Archive, item: Item, job: Job): Promise<Told> => {
  const people = await namedPeople(a, item, job);
  const names = people?.faces.map(({ name }) => name) ?? [];
  return {
    about: { ...item.about, people: [...new Set([...item.about.people, ...names])] },
    ...(people && { people }),
    done: whatIsDone(job.plan, measuredStream(item)).join('\n'),
    program: await programName(),
  };
};

/** What is written into a file of a kind: the monochrome master has had no colours added. */
function toldWithout(kind: 'master' | 'monochrome' | 'access', told: Told, item: Item, job: Job): Told {
  const plain = kind === 'monochrome' && monochromePlan(job.plan);
  return plain ? { ...told, done: whatIsDone(plain, measuredStream(item)).join('\n') } : told;
}

/** Pieces whose files are there with the checksums they had; lost ones go back to be made again. */
async function verifiedPieces(a: Archive, job: Job): ReturnType<typeof segmentFiles> {
  const pieces = await segmentFiles(a, job.id);
  let lost = 0;
  for (const piece of pieces) {
    for (const kind of ['master', 'monochrome', 'access'] as const) {
      const file = piece.files[kind];
      if (!file) continue;
      const sum = await sha256File(path.join(workFolder(a, job.id), file)).catch(() => undefined);
      if (sum !== piece.files[`${kind}Sha256`]) {
        await resetSegment(a, job.id, piece.number);
        lost++;
        break;
      }
    }
  }
  if (lost) throw new PiecesLost(`${lost} pieces were lost or damaged and are made again`);
  return pieces;
}

/** The papers that a job asks for, made of the master. */
async function writePapers(
  a: Archive,
  job: Job,
  item: Item,
  { master, place }: { master: string | undefined; place: (key: 'sheetPdf' | 'sheetPng' | 'print') => string },
): Promise<MadeFile[]> {
  const files: MadeFile[] = [];
  if (!master) return files;
  const result = path.join(workFolder(a, job.id), master);
  const { sheet, print } = job.options;
  if (!sheet && !print) return files;
  const { writeBeforeAfter, writePrint } = await import('./papers');
  if (sheet) {
    const to = { pdf: place('sheetPdf'), png: place('sheetPng') };
    await writeBeforeAfter(item, job, { source: sourcePath(a, item), result }, to);
    for (const file of [to.pdf, to.png]) files.push({ kind: 'sheet', path: file, note: 'as it came, and restored' });
  }
  if (print) {
    const file = place('print');
    files.push({ kind: 'print', path: file, note: await writePrint(item.about.title || item.name, result, print, file) });
  }
  return files;
}

/** Master and access copy of a moving item, put together from its pieces. */
async function assembleMoving(
  a: Archive,
  job: Job,
  item: Item,
  pieces: Awaited<ReturnType<typeof segmentFiles>>,
  { name, told }: { name(kind: 'master' | 'monochrome' | 'access'): string; told: Told },
): Promise<{ files: MadeFile[]; notes: string[] }> {
  const files: MadeFile[] = [],
    notes: string[] = [];
  const work = workFolder(a, job.id);
  const stream = measuredStream(item);
  const plain = monochromePlan(job.plan);
  const request = (kind: 'master' | 'monochrome' | 'access', output: string): AssembleRequest => ({
    pieces: pieces.map((p) => ({ path: path.join(work, p.files[kind]), frames: p.count })),
    listFile: path.join(work, `${kind}.ffconcat`),
    info: outputStream(kind === 'monochrome' && plain ? plain : job.plan, stream),
    source: sourcePath(a, item),
    facts: item.facts,
    kept: keptTime(job.plan, stream, item.facts.part?.frames !== undefined),
    output,
  });
  for (const kind of ['master', 'monochrome'] as const) {
    if (!job.options.master || !pieces[0]?.files[kind]) continue;
    const output = name(kind);
    const made = await assembleMaster({ ...request(kind, output), metadata: matroskaTags(toldWithout(kind, told, item, job)) });
    await checkFrames(output, job.frames);
    const note = kind === 'monochrome' ? WITHOUT_COLOURS : '';
    files.push({ kind, path: output, note: `${note}Matroska, FFV1 version 3, lossless` });
    if (kind === 'master') notes.push(...made.notes.map((n) => `master: ${n}`));
  }
  if (job.options.access) {
    const output = name('access');
    const made = await assembleAccess(request('access', output));
    notes.push(...(await tryMetadata({ ...told, file: output })));
    await checkFrames(output, job.frames);
    files.push({ kind: 'access', path: output, note: 'MP4, H.264 and AAC' });
    for (const beside of made.beside) files.push({ kind: 'subtitles', path: beside, note: 'subtitles the access copy cannot hold' });
    notes.push(...made.notes.map((n) => `access: ${n}`));
  }
  return { files, notes };
}

/** Nothing counts as done whose frames were not counted. */
async function checkFrames(file: string, frames: number): Promise<void> {
  const result = await runTool('ffprobe', [
    '-v',
    'error',
    ...SAFE_PROTOCOLS,
    '-select_streams',
    'v:0',
    '-count_packets',
    '-show_entries',
    'stream=nb_read_packets',
    '-of',
    'csv=p=0',
    fileArgument(file),
  ]);
  const found = Number(result.stdout.toString().trim().replace(/,$/, ''));
  if (found !== frames) throw new MediaError(`${path.basename(file)} holds ${found} frames instead of ${frames}; it was not delivered.`);
}

async function syncFile(file: string): Promise<void> {
  const handle = await open(file, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** Folders, the best name first, that are not there yet. */
async function freeFolders(a: Archive, collection: Collection, item: Item): Promise<Iterable<string>> {
  const parent = safeName(collection.name);
  const there = new Set(await readdir(path.join(a.paths.deliveries, parent)).catch(() => []));
  return (function* () {
    for (let n = 1; ; n++) {
      const name = n === 1 ? safeName(item.name) : `${safeName(item.name)} (${n})`;
      if (!there.has(name)) yield path.join(parent, name);
    }
  })();
}
