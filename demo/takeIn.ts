/** Makes the demo archive: a collection with the demo's media, taken in as any files are. */
import path from 'node:path';
import { archive, createCollection, filesOfFolder, saveAbout, takeIn } from '../src/archive';
import { COLLECTION, dateOf, MEDIA } from './collection';

const a = await archive();
const collection = await createCollection(a, COLLECTION);
const { files } = await filesOfFolder(MEDIA);
for (const file of files) {
  const result = await takeIn(a, collection.id, file, path.basename(file), 'copy');
  if (!result.ok) throw new Error(`${result.fileName}: ${result.message}`);
  const date = dateOf(path.basename(file));
  if (date) for (const item of result.items) await saveAbout(a, item.id, { ...item.about, date });
}
await a.db.destroy();
