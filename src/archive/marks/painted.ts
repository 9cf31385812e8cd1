import { deflateSync, inflateSync } from 'node:zlib';
import { LRUCache } from 'lru-cache';
import { CodedError } from '../../core';
import { paintStrokes, type Stroke } from '../../shared/masks/brush';
import { TILE, type PaintedDocument, type PaintedStore } from '../../shared/masks/painted';
import { keepDocument, keepJson, readDocument } from './documents';

/** Bytes of tiles, and documents, held in memory. */
const TILES_KEPT = 64 << 20,
  DOCUMENTS_KEPT = 64;

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
  const painted = await paintStrokes(strokes, size, async (name) => (tiles[name] ? store.tile(tiles[name]) : undefined));
  await Promise.all(
    [...painted].map(async ([name, tile]) => {
      if (tile.every((v) => v === 0)) delete tiles[name];
      else tiles[name] = await keepDocument(folder, deflateSync(tile, { level: 3 }));
    }),
  );
  const sorted = Object.fromEntries(Object.entries(tiles).sort(([a], [b]) => (a < b ? -1 : 1)));
  return keepJson(folder, { format: 'wairetic-painted', version: 1, width, height, tiles: sorted } satisfies PaintedDocument);
}
