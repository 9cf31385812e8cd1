import { dilated } from '../fill/hole';
import { wholeRegion } from '../picture/picture';
import type { FoundFaults } from '../treatments/treatment';
import type { Node } from './node';
import { tilesOf } from './tiled';

/** Side of the tiles in which faults of a large part are found, in pixels. */
const TILE = 2048;

/**
 * What a node's treatment takes for faults in a part of a frame, in tiles where it is large; pieces that lie across them count in each.
 * @param goOn called before each tile. @throws Cancelled when it is no longer wanted.
 * @returns undefined where the treatment does not tell.
 */
export async function foundFaults(
  node: Node,
  n: number,
  region = wholeRegion(node.stream),
  goOn?: () => void,
): Promise<FoundFaults | undefined> {
  const { x, y, width, height } = region;
  const all: FoundFaults = { region, mask: new Uint8Array(width * height), counts: [], share: 0 };
  for (const tile of tilesOf(region, TILE)) {
    goOn?.();
    const found = await node.found?.(n, tile);
    if (!found) return undefined;
    for (let row = 0; row < tile.height; row++) {
      all.mask.set(found.mask.subarray(row * tile.width, (row + 1) * tile.width), (tile.y - y + row) * width + tile.x - x);
    }
    all.share += (found.share * tile.width * tile.height) / (width * height);
    if (found.unused) all.unused = [...new Set([...(all.unused ?? []), ...found.unused])];
    all.counts = found.counts.map(({ name, count }, k) => ({ name, count: count + (all.counts[k]?.count ?? 0) }));
  }
  return all;
}

/** How much of the tint there is in a tinted pixel, and its colour. */
const STRENGTH = 0.72,
  TINT = [232, 140, 24];

/**
 * Tints faults in a screen's pixels, four bytes each.
 * @param reduced how many times smaller the pixels will be shown: thin faults are widened, so that they are still seen.
 */
export function paintFaults(pixels: Uint8Array, { region, mask }: FoundFaults, reduced: number): void {
  const shown = reduced > 1 ? dilated(mask, region.width, region.height, Math.round(reduced / 2)) : mask;
  for (let i = 0; i < shown.length; i++) {
    if (!shown[i]) continue;
    for (let c = 0; c < 3; c++) pixels[4 * i + c] = Math.round(pixels[4 * i + c] + STRENGTH * (TINT[c] - pixels[4 * i + c]));
  }
}
