/** Makes the demo archive: a collection with the demo's media, taken in as any files are. */
import path from 'node:path';
import { archive, createCollection, filesOfFolder, saveAbout, takeIn } from '../src/archive';

/** When pictures were taken whose names do not say it; of the others the year in the name. */
const DATES: Record<string, string> = {
  'Portrait of a child.tif': 'about 1932',
  'Cutting, launching day.jpg': '1948',
  'Photo of a photo.jpg': '1921',
  'Slide 14, the harbour.jpg': 'about 1970',
};
const dateOf = (file: string): string => DATES[file] ?? /\b(?:19|20)\d\d\b/.exec(file)?.[0] ?? '';

const a = await archive();
const collection = await createCollection(a, {
  name: 'Pellow Quay',
  note: 'A made-up village and its boatbuilders, the Marrows: prints, films, tapes and a disc, 1921 to 2004',
  due: '2027-03-31',
});
const { files } = await filesOfFolder(path.join(import.meta.dirname, 'media'));
for (const file of files) {
  const result = await takeIn(a, collection.id, file, path.basename(file), 'copy');
  if (!result.ok) throw new Error(`${result.fileName}: ${result.message}`);
  const date = dateOf(path.basename(file));
  if (date) for (const item of result.items) await saveAbout(a, item.id, { ...item.about, date });
}
await a.db.destroy();
