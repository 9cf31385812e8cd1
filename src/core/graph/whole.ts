import { newPlane, planeRegion, wholeRegion, type Picture, type Region } from '../picture/picture';
import type { Node } from './node';

/** Side of the tiles a large picture is worked in, in output pixels. */
const TILE = 1024;
/** Pictures up to this many pixels are made in one go. */
const ONE_GO = 9_000_000;

/** Frame `n` of a node, in tiles when it is large. */
export async function wholePicture(node: Node, n: number, progress: (done: number) => void = () => undefined): Promise<Picture> {
  const info = node.stream;
  const whole = wholeRegion(info);
  if (whole.width * whole.height <= ONE_GO) return node.frame(n, whole);
  const planes = Array.from({ length: info.planes }, (_, i) => {
    const size = planeRegion(info, i, whole);
    return newPlane(size.width, size.height);
  });
  const tiles = tilesOf(whole);
  for (const [index, region] of tiles.entries()) {
    const part = await node.frame(n, region);
    for (const [i, plane] of part.planes.entries()) {
      const at = planeRegion(info, i, region);
      for (let y = 0; y < at.height; y++) {
        planes[i].data.set(plane.data.subarray(y * at.width, (y + 1) * at.width), (at.y + y) * planes[i].width + at.x);
      }
    }
    progress((index + 1) / tiles.length);
  }
  return { info, region: whole, planes };
}

function tilesOf(whole: Region): Region[] {
  const tiles: Region[] = [];
  for (let y = 0; y < whole.height; y += TILE) {
    for (let x = 0; x < whole.width; x += TILE) {
      tiles.push({ x, y, width: Math.min(TILE, whole.width - x), height: Math.min(TILE, whole.height - y) });
    }
  }
  return tiles;
}
