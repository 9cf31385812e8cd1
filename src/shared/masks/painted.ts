import { placeOf, type Place, type Projective } from '../maps/place';
import type { PaintedShape } from './mask';

/**
 * Painted masks: tiles of 8 bits a pixel at the source's resolution, of which only those that hold anything are kept, with smaller copies
 * (each half the size of the one before) to look at from afar. A document lists its tiles by their SHA-256, so that documents that differ
 * in one stroke share all other tiles; nothing larger than a few tiles is held at a time.
 */
export interface PaintedDocument {
  format: 'wairetic-painted';
  version: 1;
  /** Size of the source, in pixels. */
  width: number;
  height: number;
  /** SHA-256 of the tiles that hold anything, by `tileName`. */
  tiles: Record<string, string>;
}

/** Where documents and tiles come from. */
export interface PaintedStore {
  document(hash: string): Promise<PaintedDocument>;
  /** `TILE` x `TILE` values, row by row. */
  tile(hash: string): Promise<Uint8Array>;
}

/** Side of a tile in pixels. */
export const TILE = 256;

export const NOTHING_PAINTED: PaintedStore = {
  document: (hash) => Promise.reject(new RangeError(`there is no painted document ${hash}`)),
  tile: (hash) => Promise.reject(new RangeError(`there is no tile ${hash}`)),
};

/** @param level 0 for the source's own resolution, each further one half of it. */
export const tileName = (level: number, x: number, y: number): string => `${level}/${x},${y}`;

/** Levels of a document: the last fits into one tile. */
export const levelsOf = ({ width, height }: { width: number; height: number }): number =>
  1 + Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / TILE)));

/** Reads a painted part where a region lies; tiles are fetched beforehand. */
export async function paintedSampler(
  shape: PaintedShape,
  {
    source,
    place,
    region,
    painted,
  }: { source: { width: number; height: number }; place: Projective; region: Place; painted: PaintedStore },
): Promise<(x: number, y: number) => number> {
  const document = await painted.document(shape.document);
  const [dx, dy] = [shape.x * source.width, shape.y * source.height];
  const part = placeOf(place, region);
  // From afar a copy is read that is not much finer than what is asked for.
  const level = Math.min(levelsOf(document) - 1, Math.max(0, Math.floor(Math.log2(Math.max(1, part.width / region.width)))));
  const scale = 2 ** -level;
  const bounds = { width: Math.ceil(document.width * scale), height: Math.ceil(document.height * scale) };
  const tiles = new Map<number, Uint8Array>();
  const across = Math.ceil(bounds.width / TILE);
  /** Tiles from the one that holds the first pixel that is asked for to the one that holds the last, and its neighbours. */
  const covered = (start: number, length: number, size: number): [number, number] => [
    Math.max(0, Math.floor((start * scale - 1) / TILE)),
    Math.min(Math.ceil(size / TILE), Math.ceil(((start + length) * scale + 1) / TILE)),
  ];
  const [left, right] = covered(part.x - dx, part.width, bounds.width),
    [top, bottom] = covered(part.y - dy, part.height, bounds.height);
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const hash = document.tiles[tileName(level, x, y)];
      if (hash) tiles.set(y * across + x, await painted.tile(hash));
    }
  }
  const value = (x: number, y: number): number => {
    if (x < 0 || y < 0 || x >= bounds.width || y >= bounds.height) return 0;
    const tile = tiles.get(Math.floor(y / TILE) * across + Math.floor(x / TILE));
    return tile ? tile[(y % TILE) * TILE + (x % TILE)] : 0;
  };
  // Between the middles of four pixels.
  return (x, y) => {
    const u = (x - dx) * scale - 0.5,
      v = (y - dy) * scale - 0.5;
    const x0 = Math.floor(u),
      y0 = Math.floor(v);
    const fx = u - x0,
      fy = v - y0;
    const upper = value(x0, y0) * (1 - fx) + value(x0 + 1, y0) * fx,
      lower = value(x0, y0 + 1) * (1 - fx) + value(x0 + 1, y0 + 1) * fx;
    return (upper * (1 - fy) + lower * fy) / 255;
  };
}
