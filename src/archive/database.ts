import type { Knex } from 'knex';
import { archivePaths, type ArchivePaths } from './paths';
import * as first from './migrations/first';
import * as second from './migrations/second';
import * as third from './migrations/third';
import * as fourth from './migrations/fourth';
import * as fifth from './migrations/fifth';
import * as seventh from './migrations/seventh';
import * as sixth from './migrations/sixth';
import * as eighth from './migrations/eighth';
import * as ninth from './migrations/ninth';
import * as tenth from './migrations/tenth';

const MIGRATIONS: Record<string, Knex.Migration> = {
  '001_first': first,
  '002_second': second,
  '003_third': third,
  '004_fourth': fourth,
  '005_fifth': fifth,
  '006_sixth': sixth,
  '007_seventh': seventh,
  '008_eighth': eighth,
  '009_ninth': ninth,
  '010_tenth': tenth,
};

/** Migrations as objects, which work the same inside bundles and under a plain runner. */
const migrationSource: Knex.MigrationSource<string> = {
  getMigrations: () => Promise.resolve(Object.keys(MIGRATIONS)),
  getMigrationName: (name) => name,
  getMigration: (name) => Promise.resolve(MIGRATIONS[name]),
};

export interface Archive {
  db: Knex;
  paths: ArchivePaths;
}

/** Opens an archive's database, made or brought up to date where needed. Several processes may hold it open. */
export async function openArchive(paths = archivePaths()): Promise<Archive> {
  // What only looks at a file does without a database.
  const { default: knex } = await import('knex');
  const db = knex({
    client: 'better-sqlite3',
    connection: { filename: paths.database },
    useNullAsDefault: true,
    pool: {
      min: 1,
      max: 1,
      afterCreate: (raw: { pragma(text: string): unknown }, done: (error: Error | null, raw: unknown) => void) => {
        for (const pragma of ['journal_mode = WAL', 'synchronous = FULL', 'foreign_keys = ON', 'busy_timeout = 15000']) raw.pragma(pragma);
        done(null, raw);
      },
    },
  });
  await migrate(db);
  return { db, paths };
}

/** Two processes may start at once: the one that comes late finds the lock taken and waits for the other. */
async function migrate(db: Knex): Promise<void> {
  for (let attempt = 0; ; attempt++) {
    try {
      await db.migrate.latest({ migrationSource });
      return;
    } catch (error) {
      if (attempt >= 50 || !/lock|already exists|UNIQUE/i.test((error as Error).message)) throw error;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
}

/** Times a transaction is begun anew when another process wrote in between, and the longest pause between, milliseconds. */
const ATTEMPTS = 40,
  PAUSE = 50;

/**
 * Runs a transaction that reads before it writes. SQLite refuses it at once, whatever the busy timeout, when another process
 * has written since its first read (SQLITE_BUSY); it is then done anew from its start, so `work` must have no other effects.
 */
export async function inTransaction<T>(db: Knex, work: (trx: Knex.Transaction) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await db.transaction(work);
    } catch (error) {
      if (attempt >= ATTEMPTS || !/SQLITE_BUSY|database is locked/.test(`${(error as { code?: string }).code} ${(error as Error).message}`))
        throw error;
      await new Promise((resolve) => setTimeout(resolve, PAUSE * Math.random()));
    }
  }
}

declare global {
  var waireticArchive: Promise<Archive> | undefined;
}

/** The archive of this process. */
export function archive(): Promise<Archive> {
  globalThis.waireticArchive ??= openArchive();
  return globalThis.waireticArchive;
}

export const now = (): string => new Date().toISOString();
