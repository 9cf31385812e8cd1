import { randomUUID } from 'node:crypto';
import { chmod, copyFile, mkdir, readdir, realpath, rename, rm, stat, unlink } from 'node:fs/promises';
import path from 'node:path';
import type { Knex } from 'knex';
import { MediaError, partName, probeParts, sha256File } from '../media';
import { inTransaction, now, type Archive } from './database';
import { findBySum, insertItem, itemOfSum, keepFrameTimes } from './items';
import { noteFixity } from './fixity';
import { pathInside, safeName, withoutFolders } from './paths';
import { NOTHING_TOLD } from '../shared/about';
import type { Item, Source } from './types';

export type IntakeResult = { ok: true; items: Item[] } | { ok: false; fileName: string; message: string };

/**
 * Takes one file into a collection: checksum, facts, original put away read-only. The file at `from` is moved when it
 * is an upload and copied when it lies elsewhere on this machine.
 *
 * @param expected a checksum the sender named; another one means the file was damaged on its way.
 * @returns the new items: one, or one for each page or picture stream of a file with several; or in words why there is none. The batch a
 * file belongs to goes on.
 */
export async function takeIn(
  a: Archive,
  collectionId: string,
  from: string,
  fileName: string,
  how: 'move' | 'copy',
  expected?: string,
): Promise<IntakeResult> {
  const name = safeName(path.basename(fileName));
  try {
    const about = await stat(from);
    if (!about.isFile()) throw new MediaError('It is no file with content, but a device or a pipe.');
    const { size } = about;
    if (size === 0) throw new MediaError('The file is empty.');
    const sha256 = await sha256File(from);
    if (expected && expected !== sha256)
      throw new MediaError('The file arrived damaged: its checksum is not the one announced. Send it again.');
    const twin = await findBySum(a, collectionId, sha256);
    if (twin) {
      const healed = await putAway(pathInside(a.paths.sources, twin.source.path), from, how, sha256);
      if (healed) await noteFixity(a, twin.source.id, '');
      const also = healed ? ' What was kept of it had been damaged or lost; it is whole again.' : '';
      throw new MediaError(`The same file is in this collection already, as "${twin.name}".${also}`);
    }
    const probed = await probeParts(from);
    const source: Source = { id: randomUUID(), path: path.join(sha256.slice(0, 2), sha256, name), fileName: name, sha256, bytes: size };
    const mended = await putAway(pathInside(a.paths.sources, source.path), from, how, sha256);
    const title = name.replace(/\.[^.]+$/, '').trim() || name;
    const created = now();
    const items = probed.map(({ facts }): Item => {
      if (mended) facts.notes.push('what another collection kept of it had been damaged and was replaced');
      const part = partName(facts.part ?? {});
      return {
        id: randomUUID(),
        collectionId,
        name: part ? `${title}, ${part}` : title,
        source,
        kind: facts.kind,
        facts,
        condition: null,
        about: NOTHING_TOLD,
        state: 'examining',
        message: '',
        created,
      };
    });
    for (const [n, { index }] of probed.entries()) if (index) await keepFrameTimes(a, items[n], index);
    await inTransaction(a.db, async (trx) => {
      // Several may bring the same file at once.
      if (await itemOfSum(trx, collectionId, sha256)) throw new MediaError('The same file is in this collection already.');
      const known = await keepSource(trx, source);
      for (const item of items) await insertItem(trx, { ...item, source: known });
    });
    return { ok: true, items };
  } catch (error) {
    if (how === 'move') await rm(from, { force: true });
    const message = error instanceof MediaError ? error.message : `Taking it in failed: ${withoutFolders((error as Error).message)}`;
    return { ok: false, fileName: name, message };
  }
}

/** Keeps what is known of a file; another collection may have brought it already. */
async function keepSource(db: Knex, source: Source): Promise<Source> {
  const { id, path: place, fileName: file_name, sha256, bytes } = source;
  const known = await db('sources').where({ path: place }).first<{ id: string } | undefined>('id');
  if (known) return { ...source, id: known.id };
  await db('sources').insert({ id, path: place, file_name, sha256, bytes, created: now() });
  return source;
}

/** Ending of files that are on their way to their place. */
export const PARTIAL = '.part';

/**
 * Moves or copies an original to its place; the same bytes may lie there already, from another collection, and are checked.
 * @returns whether something else lay there and was replaced.
 */
async function putAway(to: string, from: string, how: 'move' | 'copy', sha256: string): Promise<boolean> {
  await mkdir(path.dirname(to), { recursive: true });
  const there = await stat(to).then(
    () => sha256File(to),
    () => undefined,
  );
  if (there === sha256) {
    if (how === 'move') await unlink(from);
    return false;
  }
  // Several may bring the same file at once: each has a name of its own until the file is whole.
  const temporary = `${to}.${randomUUID()}${PARTIAL}`;
  try {
    if (how === 'move') await rename(from, temporary).catch(() => copyFile(from, temporary));
    else await copyFile(from, temporary);
    if ((await sha256File(temporary)) !== sha256) throw new MediaError('The file changed while it was taken in.');
    await chmod(temporary, 0o444);
    await rename(temporary, to);
  } finally {
    await rm(temporary, { force: true });
  }
  return there !== undefined;
}

/** What a folder holds: files to take in, and what is passed over. */
export interface FolderFiles {
  files: string[];
  /** Links, which may lead anywhere, and what is no file. */
  passedOver: { name: string; why: string }[];
}

/** Files of a folder on this machine, without hidden ones, by name; folders within included. */
export async function filesOfFolder(folder: string, limit = 10_000): Promise<FolderFiles> {
  const found: FolderFiles = { files: [], passedOver: [] };
  const visit = async (dir: string): Promise<void> => {
    const entries = await readdir(dir, { withFileTypes: true });
    for (const entry of entries.sort((x, y) => x.name.localeCompare(y.name))) {
      if (entry.name.startsWith('.') || found.files.length >= limit) continue;
      const full = path.join(dir, entry.name);
      if (entry.isDirectory()) await visit(full);
      else if (entry.isFile()) found.files.push(full);
      else
        found.passedOver.push({
          name: entry.name,
          why: entry.isSymbolicLink() ? 'It is a link; links are not followed.' : 'It is no file with content.',
        });
    }
  };
  await visit(folder);
  return found;
}

/** Whether a file or folder lies in the archive's own folder, or holds it. */
export async function overlapsArchive(a: Archive, wanted: string): Promise<boolean> {
  const [own, other] = await Promise.all([realpath(a.paths.root), realpath(wanted)]);
  const within = (outer: string, inner: string): boolean => inner === outer || inner.startsWith(outer + path.sep);
  return within(own, other) || within(other, own);
}
