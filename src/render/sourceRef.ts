import { type Archive, type Item, measuredStream, pictureKey, probedItem, sourcePath } from '../archive';
import type { SourceRef } from './segment';

/** An item's source as threads and processes get it. @param info the stream as it was measured, unless told otherwise. */
export const sourceRef = async (a: Archive, item: Item, info = measuredStream(item)): Promise<SourceRef> => ({
  path: sourcePath(a, item),
  key: pictureKey(item),
  probed: await probedItem(a, item),
  info,
  marks: a.paths.marks,
  derived: a.paths.derived,
});
