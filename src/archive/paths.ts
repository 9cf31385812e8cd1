import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { applicationRoot } from '../core';

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
  /** Hand work, by checksum; never changed once written. */
  marks: string;
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
    marks: at('marks'),
    deliveries: at('deliveries'),
  };
  for (const dir of [paths.sources, paths.derived, paths.uploads, paths.work, paths.marks, paths.deliveries])
    mkdirSync(dir, { recursive: true });
  return paths;
}

/** A message without the folders of the paths in it, which are nobody's business; names of files stay. */
export const withoutFolders = (message: string): string => message.replace(/(?<![\w.])\/(?:[^\s'":/]+\/)+/g, '');

/** A path inside `root`. @throws when it would lead out. */
export function pathInside(root: string, relative: string): string {
  const full = path.resolve(/* turbopackIgnore: true */ root, relative);
  if (full !== root && !full.startsWith(root + path.sep)) throw new Error(`the path ${relative} leads out of its folder`);
  return full;
}

/** Bytes of a name: file systems take 255, and endings and numbers are added. */
const LONGEST_NAME = 200;

/** The text cut to a number of bytes in UTF-8, between characters. */
function cutToBytes(text: string, bytes: number): string {
  let cut = '';
  let length = 0;
  for (const character of text) {
    length += Buffer.byteLength(character);
    if (length > bytes) break;
    cut += character;
  }
  return cut.trim();
}

/** A file name from free text: no separators, no control signs, not hidden, at most 200 bytes; an ending is kept. */
export function safeName(text: string): string {
  const clean = text
    .normalize('NFC')
    .replace(/[\u0000-\u001f\u007f/\\:*?"<>|]/g, ' ')
    .replace(/\s+/g, ' ')
    .replace(/^[. ]+|[. ]+$/g, '');
  const ending = /\.[A-Za-z0-9]{1,8}$/.exec(clean)?.[0] ?? '';
  const stem = cutToBytes(clean.slice(0, clean.length - ending.length), LONGEST_NAME - ending.length);
  return (stem + ending).replace(/^\.+/, '') || 'unnamed';
}
