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

/** Most pixels each way that a pass of the soft edge reaches; a softer one is worked on a smaller copy. */
const MAX_REACH = 8;

/**
 * Reads a painted part where a region lies; tiles are fetched beforehand.
 * @param feather width of its soft edge, as a share of the source's height.
 */
export async function paintedSampler(
  shape: PaintedShape,
  feather: number,
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
  const seen = Math.max(0, Math.floor(Math.log2(Math.max(1, part.width / region.width))));
  const soft = (feather * source.height) / 4;
  const level = Math.min(levelsOf(document) - 1, Math.max(seen, Math.ceil(Math.log2(Math.max(1, soft / (MAX_REACH + 0.4))))));
  const scale = 2 ** -level;
  const reach = Math.min(MAX_REACH, Math.round(soft * scale));
  const border = 2 * reach + 1;
  const bounds = { width: Math.ceil(document.width * scale), height: Math.ceil(document.height * scale) };
  const tiles = new Map<number, Uint8Array>();
  const across = Math.ceil(bounds.width / TILE);
  /** Tiles from the one that holds the first pixel that is asked for to the one that holds the last, and its neighbours. */
  const covered = (start: number, length: number, size: number): [number, number] => [
    Math.max(0, Math.floor((start * scale - border) / TILE)),
    Math.min(Math.ceil(size / TILE), Math.ceil(((start + length) * scale + border) / TILE)),
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
  const at = reach > 0 ? softened(value, reach, part, { dx, dy, scale }) : value;
  // Between the middles of four pixels.
  return (x, y) => {
    const u = (x - dx) * scale - 0.5,
      v = (y - dy) * scale - 0.5;
    const x0 = Math.floor(u),
      y0 = Math.floor(v);
    const fx = u - x0,
      fy = v - y0;
    const upper = at(x0, y0) * (1 - fx) + at(x0 + 1, y0) * fx,
      lower = at(x0, y0 + 1) * (1 - fx) + at(x0 + 1, y0 + 1) * fx;
    return (upper * (1 - fy) + lower * fy) / 255;
  };
}

/**
 * Values with a soft edge: the mean over a square, twice over, which rises over four times `reach`. Sums are whole numbers, so that a
 * value is the same whichever part it is asked for in.
 * @param part where values will be asked for, in pixels of the source.
 */
function softened(
  value: (x: number, y: number) => number,
  reach: number,
  part: Place,
  { dx, dy, scale }: { dx: number; dy: number; scale: number },
): (x: number, y: number) => number {
  const border = 2 * reach + 1;
  const left = Math.floor((part.x - dx) * scale) - border,
    top = Math.floor((part.y - dy) * scale) - border;
  const width = Math.ceil((part.x + part.width - dx) * scale) + border + 1 - left,
    height = Math.ceil((part.y + part.height - dy) * scale) + border + 1 - top;
  let sums = new Int32Array(width * height);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) sums[y * width + x] = value(left + x, top + y);
  for (let pass = 0; pass < 2; pass++) {
    sums = summed(sums, { lines: height, length: width, step: 1, line: width }, reach);
    sums = summed(sums, { lines: width, length: height, step: width, line: 1 }, reach);
  }
  const weight = (2 * reach + 1) ** -4;
  return (x, y) => {
    const u = x - left,
      v = y - top;
    return u < 0 || v < 0 || u >= width || v >= height ? 0 : sums[v * width + u] * weight;
  };
}

/** Sums along lines over `reach` values each way; what lies beyond the ends counts as none. */
function summed(
  from: Int32Array,
  { lines, length, step, line }: { lines: number; length: number; step: number; line: number },
  reach: number,
): Int32Array<ArrayBuffer> {
  const out = new Int32Array(from.length);
  for (let n = 0; n < lines; n++) {
    let sum = 0;
    for (let i = -reach; i < length; i++) {
      const enters = i + reach,
        leaves = i - reach - 1;
      if (enters < length) sum += from[n * line + enters * step];
      if (leaves >= 0) sum -= from[n * line + leaves * step];
      if (i >= 0) out[n * line + i * step] = sum;
    }
  }
  return out;
}
