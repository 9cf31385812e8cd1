import { createHash } from 'node:crypto';
import { mkdir, open, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { CodedError } from '../../core';

/**
 * Hand work, kept as immutable documents under their SHA-256 in one folder. What is written there once never changes, so that threads and
 * processes read it without asking anybody; a plan holds hashes alone. Documents that no plan holds any more stay: undo may bring them back.
 */

const HASH = /^[0-9a-f]{64}$/;

const fileOf = (folder: string, hash: string): string => path.join(/* turbopackIgnore: true */ folder, hash.slice(0, 2), hash);

/** Keeps a document. @returns its SHA-256. */
export async function keepDocument(folder: string, bytes: Uint8Array): Promise<string> {
  const hash = createHash('sha256').update(bytes).digest('hex');
  const file = fileOf(folder, hash);
  try {
    await (await open(file)).close();
    return hash;
  } catch {
    // It is new.
  }
  await mkdir(path.dirname(file), { recursive: true });
  const made = `${file}.${process.pid}-${Math.random().toString(36).slice(2)}.new`;
  const handle = await open(made, 'wx', 0o444);
  try {
    await handle.writeFile(bytes);
    await handle.sync();
  } finally {
    await handle.close();
  }
  await rename(made, file).catch(async (error: unknown) => {
    await rm(made, { force: true });
    throw error;
  });
  return hash;
}

/** @throws CodedError `mark` where there is none of that name, or it was changed. */
export async function readDocument(folder: string, hash: string): Promise<Buffer> {
  if (!HASH.test(hash)) throw new CodedError('mark', `${hash.slice(0, 80)} names no hand work.`);
  const bytes = await readFile(fileOf(folder, hash)).catch((cause: unknown) => {
    throw new CodedError('mark', `Hand work ${hash.slice(0, 12)}… is not in this archive.`, { cause });
  });
  if (createHash('sha256').update(bytes).digest('hex') !== hash)
    throw new CodedError('mark', `Hand work ${hash.slice(0, 12)}… was damaged on the disk.`);
  return bytes;
}

export const keepJson = (folder: string, value: unknown): Promise<string> => keepDocument(folder, Buffer.from(JSON.stringify(value)));
