import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { applicationRoot } from '../core/kernels/wasm';

/** Where an archive keeps its things. Everything lies inside its root. */
export interface ArchivePaths {
  root: string;
  database: string;
  /** Originals, by checksum, read-only. */
  sources: string;
  /** Frame times and thumbnails; can be made again. */
  derived: string;
  /** Uploads on their way in. */
  uploads: string;
  /** Pieces of running jobs. */
  work: string;
  /** What is handed over. */
  deliveries: string;
}

export function archivePaths(root = process.env.WAIRETIC_HOME ?? path.join(applicationRoot(), 'data')): ArchivePaths {
  const at = (name: string): string => path.join(/* turbopackIgnore: true */ root, name);
  const paths = {
    root,
    database: at('archive.sqlite'),
    sources: at('sources'),
    derived: at('derived'),
    uploads: at('uploads'),
    work: at('work'),
    deliveries: at('deliveries'),
  };
  for (const dir of [paths.sources, paths.derived, paths.uploads, paths.work, paths.deliveries]) mkdirSync(dir, { recursive: true });
  return paths;
}

/** A path inside `root`. @throws when it would lead out. */
export function inside(root: string, relative: string): string {
  const full = path.resolve(/* turbopackIgnore: true */ root, relative);
  if (full !== root && !full.startsWith(root + path.sep)) throw new Error(`the path ${relative} leads out of its folder`);
  return full;
}

/** A file name from free text: no separators, no control signs, not hidden, at most 120 characters. */
export function safeName(text: string): string {
  const clean = text
    .normalize('NFC')
    .replace(/[\u0000-\u001f\u007f/\\:*?"<>|]/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+|[. ]+$/g, '');
  return clean.slice(0, 120).trim() || 'unnamed';
}
