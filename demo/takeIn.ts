/** Makes the demo archive: a collection with the demo's media, taken in as any files are. */
import path from 'node:path';
import { archive, createCollection, filesOfFolder, takeIn } from '../src/archive';

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
}
await a.db.destroy();
