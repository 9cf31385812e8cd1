/** Bytes of the largest directory that is looked through. */
const MAX_ENTRIES = 200;
/** Tags of TIFF 6.0 and of the DNG specification 1.7. */
const NEW_SUBFILE_TYPE = 254,
  SUB_IFDS = 330,
  DNG_VERSION = 50_706;

/**
 * Whether a TIFF is what a camera's sensor saw, not yet developed: its first page is then a small preview, which must not pass for the picture. DNG says so
 * by a tag, CR2 and CR3 by marks in their headers; others have a first page that is called reduced, and the sensor's data in directories below it.
 *
 * @param head the file's first bytes.
 */
export function isCameraRaw(head: Buffer): boolean {
  // CR3 is a film's container with a brand of its own.
  if (head.toString('latin1', 4, 12) === 'ftypcrx ') return true;
  const little = head.toString('latin1', 0, 2) === 'II';
  if (!little && head.toString('latin1', 0, 2) !== 'MM') return false;
  const short = (at: number): number => (little ? head.readUInt16LE(at) : head.readUInt16BE(at));
  const long = (at: number): number => (little ? head.readUInt32LE(at) : head.readUInt32BE(at));
  if (head.length < 12 || short(2) !== 42) return false;
  if (head.toString('latin1', 8, 10) === 'CR') return true;
  const directory = long(4);
  if (directory + 2 > head.length) return false;
  const tags = new Map<number, number>();
  const entries = Math.min(MAX_ENTRIES, short(directory));
  for (let n = 0; n < entries; n++) {
    const at = directory + 2 + 12 * n;
    if (at + 12 > head.length) break;
    tags.set(short(at), long(at + 8));
  }
  return tags.has(DNG_VERSION) || (tags.get(NEW_SUBFILE_TYPE) === 1 && tags.has(SUB_IFDS));
}
