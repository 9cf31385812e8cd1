import { newPlane, planeRegion, putPart, wholeRegion, type Picture, type Region } from '../picture/picture';
import type { Node } from './node';

/** Side of the tiles a large picture is worked in, in pixels. */
const TILE = 1024;
/** Pictures up to this many pixels are made in one go. */
const MAX_UNTILED_PIXELS = 9_000_000;

/** How a large picture is made. */
export interface Tiling {
  /** The part that is wanted; all of the frame when left out. */
  region?: Region;
  /** Pixels up to which it is made in one go. */
  untiled?: number;
  /** Is told the share that is done after each tile. */
  progress?(done: number): void;
  /** Called before each tile. @throws Cancelled when the picture is no longer wanted. */
  goOn?(): void;
}

/**
 * Frame `n` of a node, in tiles when it is large: memory stays bounded, and the work can be stopped in between.
 * @throws what the node or `goOn` throws.
 */
export async function tiledPicture(node: Node, n: number, tiling: Tiling = {}): Promise<Picture> {
  const info = node.stream;
  const { region = wholeRegion(info), untiled = MAX_UNTILED_PIXELS, progress, goOn } = tiling;
  if (region.width * region.height <= untiled) return node.frame(n, region);
  const planes = Array.from({ length: info.planes }, (_, i) => planeRegion(info, i, region)).map((part) =>
    newPlane(part.width, part.height),
  );
  const whole = { info, region, planes };
  const tiles = tilesOf(region);
  for (const [index, tile] of tiles.entries()) {
    goOn?.();
    putPart(whole, await node.frame(n, tile));
    progress?.((index + 1) / tiles.length);
  }
  return whole;
}

/** A region in squares of `side`, row by row; the last of a row or column smaller. */
export function tilesOf({ x: left, y: top, width, height }: Region, side = TILE): Region[] {
  const tiles: Region[] = [];
  for (let y = 0; y < height; y += side) {
    for (let x = 0; x < width; x += side) {
      tiles.push({ x: left + x, y: top + y, width: Math.min(side, width - x), height: Math.min(side, height - y) });
    }
  }
  return tiles;
}
