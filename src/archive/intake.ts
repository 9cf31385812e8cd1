import { randomUUID } from 'node:crypto';
import { chmod, copyFile, mkdir, readdir, rename, rm, stat, unlink, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { sha256File } from '../media/checksum';
import { probe } from '../media/probe';
import { MediaError } from '../media/tools';
import { now, type Archive } from './database';
import { findBySum, indexJson, indexPath, insertItem } from './items';
import { inside, safeName } from './paths';
import type { Item } from './types';

export type IntakeResult = { ok: true; item: Item } | { ok: false; fileName: string; message: string };

/**
 * Takes one file into a collection: checksum, facts, original put away read-only. The file at `from` is moved when it
 * is an upload and copied when it lies elsewhere on this machine.
 *
 * @param expected a checksum the sender named; another one means the file was damaged on its way.
 * @returns the new item, or in words why there is none; the batch a file belongs to goes on.
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
    const { size } = await stat(from);
    if (size === 0) throw new MediaError('The file is empty.');
    const sha256 = await sha256File(from);
    if (expected && expected !== sha256)
      throw new MediaError('The file arrived damaged: its checksum is not the one announced. Send it again.');
    const twin = await findBySum(a, collectionId, sha256);
    if (twin) throw new MediaError(`The same file is in this collection already, as "${twin.name}".`);
    const { facts, index } = await probe(from);
    const item: Item = {
      id: randomUUID(),
      collectionId,
      name: name.replace(/\.[^.]+$/, '').trim() || name,
      fileName: name,
      kind: facts.kind,
      source: path.join(sha256.slice(0, 2), sha256, name),
      sha256,
      bytes: size,
      facts,
      condition: null,
      state: 'examining',
      message: '',
      created: now(),
    };
    await putAway(inside(a.paths.sources, item.source), from, how, sha256);
    if (index) await writeFile(indexPath(a, item), indexJson(index));
    await insertItem(a, item);
    return { ok: true, item };
  } catch (error) {
    if (how === 'move') await rm(from, { force: true });
    const message =
      error instanceof MediaError
        ? error.message
        : (error as Error).message.includes('UNIQUE')
          ? 'The same file is in this collection already.'
          : `Taking it in failed: ${(error as Error).message}`;
    return { ok: false, fileName: name, message };
  }
}

/** Moves or copies an original to its place; the same bytes may lie there already, from another collection. */
async function putAway(to: string, from: string, how: 'move' | 'copy', sha256: string): Promise<void> {
  await mkdir(path.dirname(to), { recursive: true });
  const there = await stat(to).catch(() => undefined);
  if (there) {
    if (how === 'move') await unlink(from);
    return;
  }
  const temporary = `${to}.part`;
  if (how === 'move') await rename(from, temporary).catch(() => copyFile(from, temporary));
  else await copyFile(from, temporary);
  if ((await sha256File(temporary)) !== sha256) {
    await rm(temporary, { force: true });
    throw new MediaError('The file changed while it was taken in.');
  }
  await chmod(temporary, 0o444);
  await rename(temporary, to);
}

/** Files of a folder on this machine, without hidden ones, by name; folders within included. */
export async function filesOfFolder(folder: string, limit = 10_000): Promise<string[]> {
  const found: string[] = [];
  const visit = async (dir: string): Promise<void> => {
    const entries = await readdir(dir, { withFileTypes: true });
    for (const entry of entries.sort((x, y) => x.name.localeCompare(y.name))) {
      if (entry.name.startsWith('.') || found.length >= limit) continue;
      const full = path.join(dir, entry.name);
      if (entry.isDirectory()) await visit(full);
      else if (entry.isFile()) found.push(full);
    }
  };
  await visit(folder);
  return found;
}
