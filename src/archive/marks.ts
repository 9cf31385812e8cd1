import { createHash } from 'node:crypto';
import { mkdir, open, readFile, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { deflateSync, inflateSync } from 'node:zlib';
import { LRUCache } from 'lru-cache';
import { CodedError } from '../core/errors';
import { paintStroke, type Stroke } from '../shared/masks/brush';
import { TILE, type PaintedDocument, type PaintedStore } from '../shared/masks/painted';

/**
 * Hand work, kept as immutable documents under their SHA-256 in one folder. What is written there once never changes, so that threads and
 * processes read it without asking anybody; a plan holds hashes alone. Documents that no plan holds any more stay: undo may bring them back.
 */

/** Bytes of a tile as it is read, kept in memory, and documents. */
const TILES_KEPT = 64 << 20,
  DOCUMENTS_KEPT = 64;

const HASH = /^[0-9a-f]{64}$/;

const fileOf = (folder: string, hash: string): string => path.join(/* turbopackIgnore: true */ folder, hash.slice(0, 2), hash);

/** Keeps a document. @returns its SHA-256. */
export async function keepDocument(folder: string, bytes: Uint8Array): Promise<string> {
  const hash = createHash('sha256').update(bytes).digest('hex');
  const file = fileOf(folder, hash);
  try {
    await (await open(file)).close();
    return hash;
  } catch {
    // It is new.
  }
  await mkdir(path.dirname(file), { recursive: true });
  const made = `${file}.${process.pid}-${Math.random().toString(36).slice(2)}.new`;
  const handle = await open(made, 'wx', 0o444);
  try {
    await handle.writeFile(bytes);
    await handle.sync();
  } finally {
    await handle.close();
  }
  await rename(made, file).catch(async (error: unknown) => {
    await rm(made, { force: true });
    throw error;
  });
  return hash;
}

/** @throws CodedError `mark` where there is none of that name, or it was changed. */
export async function readDocument(folder: string, hash: string): Promise<Buffer> {
  if (!HASH.test(hash)) throw new CodedError('mark', `${hash.slice(0, 80)} names no hand work.`);
  const bytes = await readFile(fileOf(folder, hash)).catch((cause: unknown) => {
    throw new CodedError('mark', `Hand work ${hash.slice(0, 12)}… is not in this archive.`, { cause });
  });
  if (createHash('sha256').update(bytes).digest('hex') !== hash)
    throw new CodedError('mark', `Hand work ${hash.slice(0, 12)}… was damaged on the disk.`);
  return bytes;
}

const keepJson = (folder: string, value: unknown): Promise<string> => keepDocument(folder, Buffer.from(JSON.stringify(value)));

/** Reads painted masks from a folder of marks. @param folder undefined outside of an archive, where there are none. */
export function paintedStore(folder: string | undefined): PaintedStore {
  const at = folder ?? '';
  const known = stores.get(at);
  if (known) return known;
  const tiles = new LRUCache<string, Uint8Array>({ maxSize: TILES_KEPT, sizeCalculation: ({ length }) => length });
  const documents = new LRUCache<string, PaintedDocument>({ max: DOCUMENTS_KEPT });
  const store: PaintedStore = {
    async document(hash) {
      const kept = documents.get(hash);
      if (kept) return kept;
      const document = readPainted(await readDocument(at, hash));
      documents.set(hash, document);
      return document;
    },
    async tile(hash) {
      const kept = tiles.get(hash);
      if (kept) return kept;
      const tile = new Uint8Array(inflateSync(await readDocument(at, hash), { maxOutputLength: TILE * TILE }));
      if (tile.length !== TILE * TILE) throw new CodedError('mark', `Hand work ${hash.slice(0, 12)}… is no tile.`);
      tiles.set(hash, tile);
      return tile;
    },
  };
  stores.set(at, store);
  return store;
}

/** One a folder, so that what was read is kept between proofs. */
const stores = new Map<string, PaintedStore>();

function readPainted(bytes: Buffer): PaintedDocument {
  const document = JSON.parse(bytes.toString()) as Partial<PaintedDocument>;
  if (document.format !== 'wairetic-painted' || document.version !== 1 || !document.tiles)
    throw new CodedError('mark', 'This hand work is no painted mask.');
  return document as PaintedDocument;
}

/**
 * Paints strokes, in order.
 * @param base document they are painted on; undefined for an empty one.
 * @returns the new document's SHA-256.
 */
export async function paintDocument(
  folder: string,
  base: string | undefined,
  size: { width: number; height: number },
  strokes: Stroke[],
): Promise<string> {
  const store = paintedStore(folder);
  const { width, height } = size;
  const tiles = { ...(base ? (await store.document(base)).tiles : {}) };
  const painted = new Map<string, Uint8Array>();
  const read = async (name: string): Promise<Uint8Array | undefined> =>
    painted.get(name) ?? (tiles[name] ? store.tile(tiles[name]) : undefined);
  for (const stroke of strokes) for (const [name, tile] of await paintStroke(stroke, size, read)) painted.set(name, tile);
  await Promise.all(
    [...painted].map(async ([name, tile]) => {
      if (tile.every((v) => v === 0)) delete tiles[name];
      else tiles[name] = await keepDocument(folder, deflateSync(tile, { level: 3 }));
    }),
  );
  const sorted = Object.fromEntries(Object.entries(tiles).sort(([a], [b]) => (a < b ? -1 : 1)));
  return keepJson(folder, { format: 'wairetic-painted', version: 1, width, height, tiles: sorted } satisfies PaintedDocument);
}
