import { readdir, readFile, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import type { Archive } from './database';
import { PARTIAL, takeIn, type IntakeResult } from './intake';
import { pathInside } from './paths';

/** An upload as its store describes it, in a JSON file beside it. */
export interface StoredUpload {
  id: string;
  size?: number;
  metadata?: Record<string, string | null>;
  creation_date?: string;
}

/** Milliseconds after which an upload that nobody goes on with is given up. */
const EXPIRES = 7 * 86_400_000;

/** Milliseconds without a byte after which an original on its way to its place is nobody's any more. */
const STALE = 3_600_000;

/** Takes a whole upload into the collection it names; what the store noted of it goes. */
export async function receiveUpload(a: Archive, { id, metadata }: StoredUpload): Promise<IntakeResult> {
  const { collection, filename, sha256 } = metadata ?? {};
  const file = pathInside(a.paths.uploads, id);
  const result = await takeIn(a, collection ?? '', file, filename ?? 'unnamed', 'move', sha256 ?? undefined);
  await rm(`${file}.json`, { force: true });
  return result;
}

/**
 * What a server that was killed left behind: uploads that were whole are taken in, others stay for a week so that they can go on, and
 * originals that were on their way to their place go, for their senders still have them.
 *
 * @returns what was taken in or refused.
 */
export async function recoverUploads(a: Archive, time = Date.now()): Promise<IntakeResult[]> {
  const results: IntakeResult[] = [];
  const names = await readdir(a.paths.uploads);
  for (const name of names) {
    const file = pathInside(a.paths.uploads, name);
    if (name.endsWith('.json')) {
      const upload = await readUpload(file);
      const there = upload && (await stat(pathInside(a.paths.uploads, upload.id)).catch(() => undefined));
      if (upload && there && there.size === upload.size) results.push(await receiveUpload(a, upload));
      else if (!there || older(there.mtimeMs, time)) {
        if (upload) await rm(pathInside(a.paths.uploads, upload.id), { force: true });
        await rm(file, { force: true });
      }
    } else if (!names.includes(`${name}.json`) && older((await stat(file)).mtimeMs, time)) await rm(file, { force: true, recursive: true });
  }
  await removePartial(a.paths.sources, time);
  return results;
}

const older = (changed: number, time: number): boolean => time - changed > EXPIRES;

/** The description that lies beside an upload. @returns undefined for one that is damaged, or names a file elsewhere. */
async function readUpload(file: string): Promise<StoredUpload | undefined> {
  try {
    const upload = JSON.parse(await readFile(file, 'utf8')) as StoredUpload;
    return upload.id === path.basename(file, '.json') ? upload : undefined;
  } catch {
    return undefined;
  }
}

async function removePartial(folder: string, time: number): Promise<void> {
  for (const entry of await readdir(folder, { withFileTypes: true })) {
    const full = path.join(folder, entry.name);
    if (entry.isDirectory()) await removePartial(full, time);
    else if (entry.name.endsWith(PARTIAL) && time - (await stat(full)).mtimeMs > STALE) await rm(full, { force: true });
  }
}
