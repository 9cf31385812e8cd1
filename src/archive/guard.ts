import { randomUUID } from 'node:crypto';
import { readFileSync, rmSync } from 'node:fs';
import { link, mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import type { Archive } from './database';
import type { ArchivePaths } from './paths';

/** An archive that cannot be worked on as it is; said in words. */
export class ArchiveError extends Error {
  override name = 'ArchiveError';
}

interface Owner {
  host: string;
  pid: number;
  /** When the process began, by the machine's own count; a number that is given again begins at another time. */
  began: string;
  since: string;
}

/** When a process began, in clock ticks since the machine's start; empty of one that has ended, or where the system does not tell. */
function beginOf(pid: number): string {
  try {
    const line = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // The name in brackets may hold anything; after it come the state and, as the 20th field, the time (proc_pid_stat(5)).
    const fields = line.slice(line.lastIndexOf(')') + 2).split(' ');
    return /[ZX]/.test(fields[0]) ? '' : fields[19];
  } catch {
    return '';
  }
}

function lives({ host, pid, began }: Owner): boolean {
  // Another machine's processes cannot be seen from here.
  if (host !== os.hostname()) return true;
  try {
    process.kill(pid, 0);
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
  return began === beginOf(pid);
}

/** Milliseconds a process that was killed may take to go, and between looks. */
const DYING_MS = 2000,
  POLL_MS = 100;

/** Whether a process is still there after a while in which one that was killed would be gone. */
async function livesOn(owner: Owner): Promise<boolean> {
  for (const until = Date.now() + DYING_MS; lives(owner); await new Promise((resolve) => setTimeout(resolve, POLL_MS)))
    if (Date.now() > until) return true;
  return false;
}

/**
 * Makes this process the one server of an archive. What a process that is gone left behind is taken over.
 * @returns gives it up again.
 * @throws ArchiveError naming the process that has it.
 */
export async function claimArchive(paths: ArchivePaths): Promise<() => void> {
  const lock = path.join(paths.root, 'archive.lock');
  const own: Owner = { host: os.hostname(), pid: process.pid, began: beginOf(process.pid), since: new Date().toISOString() };
  for (let attempt = 0; attempt < 3; attempt++) {
    const written = `${lock}.${randomUUID()}`;
    await writeFile(written, JSON.stringify(own));
    try {
      // A link appears whole or not at all, and only where nothing is.
      await link(written, lock);
      return () => rmSync(lock, { force: true });
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    } finally {
      await rm(written, { force: true });
    }
    const owner = await readFile(lock, 'utf8')
      .then((text) => JSON.parse(text) as Owner)
      .catch(() => undefined);
    // One that was killed just now may take a moment to go.
    if (owner && (await livesOn(owner)))
      throw new ArchiveError(
        `Another server works on this archive: process ${owner.pid} on ${owner.host}, since ${owner.since}. Stop it first; if it is gone for good, remove archive.lock.`,
      );
    // Renaming takes it away once, should several find it at the same time.
    const old = `${lock}.${randomUUID()}`;
    await rename(lock, old).catch(() => undefined);
    await rm(old, { force: true });
  }
  throw new ArchiveError('Another server is starting on this archive at the same time.');
}

/**
 * Opens an archive whose database is sound.
 * @throws ArchiveError when it is damaged.
 */
export async function openVerified(open: () => Promise<Archive>): Promise<Archive> {
  try {
    const a = await open();
    await checkDatabase(a);
    return a;
  } catch (error) {
    const { message } = error as Error;
    throw /malformed|not a database/.test(message) ? damaged(message) : error;
  }
}

async function checkDatabase({ db }: Archive): Promise<void> {
  const rows = (await db.raw('pragma quick_check').catch((error: Error) => [{ quick_check: error.message }])) as { quick_check: string }[];
  if (rows[0]?.quick_check === 'ok') return;
  throw damaged(rows[0]?.quick_check ?? 'no answer');
}

const damaged = (why: string): ArchiveError =>
  new ArchiveError(
    `The archive's database is damaged (${why}). Its newest copies lie in the folder snapshots; the README says how one is put back.`,
  );

/** Copies of the database that are kept. */
const SNAPSHOTS = 3;

export const snapshotFolder = ({ root }: ArchivePaths): string => path.join(root, 'snapshots');

/** Writes today's copy of the database beside it, while it is used, and lets the oldest go. */
export async function takeSnapshot({ db, paths }: Archive, day = new Date().toISOString().slice(0, 10)): Promise<void> {
  const folder = snapshotFolder(paths);
  await mkdir(folder, { recursive: true });
  const kept = (await readdir(folder)).filter((name) => /^archive-.*\.sqlite$/.test(name)).sort();
  const name = `archive-${day}.sqlite`;
  if (kept.includes(name)) return;
  const temporary = path.join(folder, `.${name}`);
  await rm(temporary, { force: true });
  await db.raw('vacuum into ?', [temporary]);
  await rename(temporary, path.join(folder, name));
  for (const old of [...kept, name].slice(0, -SNAPSHOTS)) await rm(path.join(folder, old), { force: true });
}
