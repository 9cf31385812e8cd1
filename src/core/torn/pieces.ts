import { dilated } from '../fill/hole';
import type { Plane } from '../picture/picture';

/** A piece of paper on a scan. */
export interface Piece {
  /** 1 where it lies, on the raster it was found in. */
  mask: Uint8Array;
  pixels: number;
  /** Middles of the pixels of its border. */
  contour: Float64Array;
  middle: { x: number; y: number };
}

/** A piece on the scan's own pixels. */
export interface FullPiece {
  mask: Uint8Array;
  contour: Float64Array;
}

/** Pieces as they were found on a raster `scale` times coarser than the scan's. */
export interface FoundPieces {
  width: number;
  height: number;
  scale: number;
  /** The largest first. */
  pieces: Piece[];
  /** Tone of the scan's ground, of each plane. */
  ground: number[];
}

/** Longest side of the raster pieces are found on. */
const RASTER = 700;
/** Codes of 255 by which paper differs from the scanner's lid. */
const DIFFERS = 14;
/** Least share of the scan that a piece covers. */
const LEAST = 0.04;

/**
 * Pieces of paper before the even ground of a scan: what differs from the tone of the scan's border.
 * @param planes luma, or luma and chroma of the luma's size.
 */
export function findPieces(planes: Plane[]): FoundPieces {
  const [{ width: full, height: tall }] = planes;
  const scale = Math.max(1, Math.ceil(Math.max(full, tall) / RASTER));
  const width = Math.floor(full / scale),
    height = Math.floor(tall / scale);
  const small = planes.map((plane) => reduced(plane, scale, width, height));
  const ground = small.map((plane) => borderTone(plane, width, height));
  const paper = new Uint8Array(width * height);
  for (let i = 0; i < paper.length; i++) {
    if (small.some((plane, p) => Math.abs(plane[i] - ground[p]) > DIFFERS * 256)) paper[i] = 1;
  }
  return { width, height, scale, ground, pieces: piecesOf(withoutGaps(paper, width, height), width, height) };
}

function reduced(plane: Plane, scale: number, width: number, height: number): Float64Array {
  const out = new Float64Array(width * height);
  for (let y = 0; y < height * scale; y++) {
    for (let x = 0; x < width * scale; x++) out[Math.floor(y / scale) * width + Math.floor(x / scale)] += plane.data[y * plane.width + x];
  }
  return out.map((v) => v / scale ** 2);
}

/** The middle of what the outermost pixels have. */
function borderTone(plane: Float64Array, width: number, height: number): number {
  const border: number[] = [];
  for (let x = 0; x < width; x++) border.push(plane[x], plane[(height - 1) * width + x]);
  for (let y = 0; y < height; y++) border.push(plane[y * width], plane[y * width + width - 1]);
  return border.sort((a, b) => a - b)[border.length >> 1];
}

/** Pictures have parts in the tone of the ground: what is wholly enclosed belongs to the paper. */
function withoutGaps(paper: Uint8Array, width: number, height: number): Uint8Array {
  const outside = new Uint8Array(paper.length);
  const ends: number[] = [];
  const visit = (x: number, y: number): void => {
    if (x < 0 || y < 0 || x >= width || y >= height) return;
    const i = y * width + x;
    if (paper[i] || outside[i]) return;
    outside[i] = 1;
    ends.push(i);
  };
  for (let x = 0; x < width; x++) {
    visit(x, 0);
    visit(x, height - 1);
  }
  for (let y = 0; y < height; y++) {
    visit(0, y);
    visit(width - 1, y);
  }
  for (let i = ends.pop(); i !== undefined; i = ends.pop()) {
    const x = i % width,
      y = Math.floor(i / width);
    visit(x - 1, y);
    visit(x + 1, y);
    visit(x, y - 1);
    visit(x, y + 1);
  }
  return outside.map((o) => 1 - o);
}

function piecesOf(paper: Uint8Array, width: number, height: number): Piece[] {
  const seen = new Uint8Array(paper.length);
  const pieces: Piece[] = [];
  for (let start = 0; start < paper.length; start++) {
    if (!paper[start] || seen[start]) continue;
    const mask = new Uint8Array(paper.length);
    const ends = [start];
    seen[start] = 1;
    let pixels = 0,
      sumX = 0,
      sumY = 0;
    for (let i = ends.pop(); i !== undefined; i = ends.pop()) {
      mask[i] = 1;
      pixels++;
      const x = i % width;
      sumX += x + 0.5;
      sumY += Math.floor(i / width) + 0.5;
      for (const next of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width]) {
        if (next < 0 || next >= paper.length || !paper[next] || seen[next]) continue;
        seen[next] = 1;
        ends.push(next);
      }
    }
    if (pixels < LEAST * paper.length) continue;
    pieces.push({ mask, pixels, contour: contourOf(mask, width, height), middle: { x: sumX / pixels, y: sumY / pixels } });
  }
  return pieces.sort((a, b) => b.pixels - a.pixels);
}

/** Middles of the pixels that touch what is not of the piece, x and y in turn. */
function contourOf(mask: Uint8Array, width: number, height: number): Float64Array {
  const around = dilated(
    mask.map((m) => 1 - m),
    width,
    height,
    1,
  );
  const points: number[] = [];
  for (let i = 0; i < mask.length; i++) if (mask[i] && around[i]) points.push((i % width) + 0.5, Math.floor(i / width) + 0.5);
  return Float64Array.from(points);
}

/** A piece on the scan's own pixels: its middle as it was found, its border by what differs from the ground there. */
export function fullPiece(planes: Plane[], { width, height, scale, ground }: FoundPieces, { mask }: Piece): FullPiece {
  const [{ width: full, height: tall }] = planes;
  const wide = dilated(mask, width, height, 1);
  const apart = dilated(
    mask.map((m) => 1 - m),
    width,
    height,
    1,
  );
  const out = new Uint8Array(full * tall);
  for (let y = 0; y < tall; y++) {
    const row = Math.min(height - 1, Math.floor(y / scale)) * width;
    for (let x = 0; x < full; x++) {
      const at = row + Math.min(width - 1, Math.floor(x / scale)),
        i = y * full + x;
      if (!wide[at]) continue;
      if (!apart[at] || planes.some((plane, p) => Math.abs(plane.data[i] - ground[p]) > DIFFERS * 256)) out[i] = 1;
    }
  }
  return { mask: out, contour: contourOf(out, full, tall) };
}
