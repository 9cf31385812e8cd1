import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { type Archive, type Collection, type Item, listDeliveries, listItems, pathInside, thumbnailPath } from '../archive';
import { smallPicture } from '../media';
import type { SheetEntry } from './sheets/contactSheet';
import { SHEET_PPI } from './sheets/page';

/** Longest side of a picture on a contact sheet: 300 pixels an inch. */
const SIDE = 560;

export interface ContactSheetFile {
  data: Buffer;
  pages: number;
}

/**
 * A collection's pictures for the client to look over: what was delivered last of each still, else what came.
 * @param only ids of the items that are shown; all when left out.
 * @param page of a PNG, from 0; a PDF holds them all.
 */
export async function contactSheet(
  a: Archive,
  collection: Collection,
  as: 'pdf' | 'png',
  { only, page = 0 }: { only?: ReadonlySet<string>; page?: number } = {},
): Promise<ContactSheetFile> {
  // Setting type takes packages that nothing else needs.
  const [{ contactSheets }, { tellingOf }, { toPdf }, { toPng }] = await Promise.all([
    import('./sheets/contactSheet'),
    import('./sheets/beforeAfter'),
    import('./sheets/pdf'),
    import('./sheets/png'),
  ]);
  const items = (await listItems(a, collection.id)).filter((item) => !only || only.has(item.id));
  const entries: SheetEntry[] = [];
  for (const item of items) {
    const file = await pictureOf(a, item);
    if (file) entries.push({ ...file, name: item.about.title || item.name, told: tellingOf(item.about) });
  }
  const subtitle = `${entries.length} ${entries.length === 1 ? 'picture' : 'pictures'}${collection.note ? ` · ${collection.note}` : ''}`;
  const pages = contactSheets(collection.name, subtitle, entries);
  const data =
    as === 'pdf' ? await toPdf(pages, { title: collection.name }) : await toPng(pages[Math.min(page, pages.length - 1)], SHEET_PPI);
  return { data, pages: pages.length };
}

/** The picture an item stands with; undefined where nothing of it was seen yet. */
async function pictureOf(a: Archive, item: Item): Promise<Awaited<ReturnType<typeof smallPicture>> | undefined> {
  const thumbnail = await readFile(thumbnailPath(a, item)).catch(() => undefined);
  const [delivery] = item.kind === 'still' ? await listDeliveries(a, { itemId: item.id }) : [];
  const restored = delivery?.files.find((f) => f.kind === 'access') ?? delivery?.files.find((f) => f.kind === 'master');
  if (restored) {
    const file = path.join(pathInside(a.paths.deliveries, delivery.folder), restored.fileName);
    const picture = await smallPicture(file, SIDE).catch(() => undefined);
    if (picture) return picture;
  }
  return thumbnail && smallPicture(thumbnail, SIDE);
}
