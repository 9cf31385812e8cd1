import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import { openArchive } from '../archive';
import { MediaError } from '../media';
import { contactSheet } from '../render';
import { collectionNamed } from './collectionNamed';

/**
 * Writes the contact sheet of a collection; the file must not exist.
 * @param name the collection's.
 * @param page of a PNG, from 1.
 * @returns what was written, in words.
 * @throws MediaError when there is no such collection, or the file cannot be written.
 */
export async function sheetCommand(name: string, out: string, page = 1): Promise<string> {
  const ending = path.extname(out).toLowerCase();
  if (ending !== '.pdf' && ending !== '.png')
    throw new MediaError(`A contact sheet is written as .pdf or .png, not as ${ending || 'nothing'}.`);
  const a = await openArchive();
  try {
    const { data, pages } = await contactSheet(a, await collectionNamed(a, name), ending === '.pdf' ? 'pdf' : 'png', { page: page - 1 });
    if (page > pages) throw new MediaError(`The sheet has ${pages} ${pages === 1 ? 'page' : 'pages'}.`);
    await writeFile(out, data, { flag: 'wx' }).catch((error: NodeJS.ErrnoException) => {
      throw new MediaError(error.code === 'EEXIST' ? `${out} exists already; nothing is overwritten.` : `${out} cannot be written.`);
    });
    return ending === '.pdf' ? `${out}: ${pages} ${pages === 1 ? 'page' : 'pages'}` : `${out}: page ${page} of ${pages}`;
  } finally {
    await a.db.destroy();
  }
}
