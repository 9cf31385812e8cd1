import { type Archive, type Collection, listCollections } from '../archive';
import { MediaError } from '../media';

/** The collection of a name. @throws MediaError where none or several have it. */
export async function collectionNamed(a: Archive, name: string): Promise<Collection> {
  const found = (await listCollections(a)).filter((collection) => collection.name === name);
  if (found.length === 1) return found[0];
  throw new MediaError(found.length ? `Several collections are called "${name}".` : `There is no collection "${name}".`);
}
