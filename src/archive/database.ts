import knex, { type Knex } from 'knex';
import { archivePaths, type ArchivePaths } from './paths';
import * as first from './migrations/first';

const MIGRATIONS: Record<string, Knex.Migration> = { '001_first': first };

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

declare global {
  var waireticArchive: Promise<Archive> | undefined;
}

/** The archive of this process. */
export function archive(): Promise<Archive> {
  globalThis.waireticArchive ??= openArchive();
  return globalThis.waireticArchive;
}

export const now = (): string => new Date().toISOString();
