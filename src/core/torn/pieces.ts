import { dilated } from '../fill/hole';
import type { Plane } from '../picture/picture';
import { median } from '../metrics/median';

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

/** A ground that is lit from one side: its tone at the raster's upper left, and what it gains with each of its pixels. */
interface Ground {
  level: number;
  across: number;
  down: number;
}

const groundAt = ({ level, across, down }: Ground, x: number, y: number): number => level + across * x + down * y;

/** Pieces as they were found on a raster `scale` times coarser than the scan's. */
export interface FoundPieces {
  width: number;
  height: number;
  scale: number;
  /** The largest first. */
  pieces: Piece[];
  /** Tone of the scan's ground, of each plane. */
  ground: Ground[];
}

/** Longest side of the raster pieces are found on. */
const RASTER = 700;
/** Codes of 255 by which paper differs from the scanner's lid. */
const DIFFERS = 10;
/** Least share of the scan that a piece covers. */
const LEAST = 0.04;

/**
 * Pieces of paper before the even ground of a scan: what differs from the tone of the scan's border, lit from one side or not.
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
    const x = i % width,
      y = Math.floor(i / width);
    if (small.some((plane, p) => Math.abs(plane[i] - groundAt(ground[p], x, y)) > DIFFERS * 256)) paper[i] = 1;
  }
  return { width, height, scale, ground, pieces: piecesOf(withoutGaps(paper, width, height), width, height) };
}

function reduced(plane: Plane, scale: number, width: number, height: number): Float64Array {
  const out = new Float64Array(width * height);
  for (let row = 0; row < height * scale; row++) {
    const to = Math.floor(row / scale) * width;
    for (let x = 0, i = row * plane.width; x < width; x++) {
      let sum = 0;
      for (const end = i + scale; i < end; i++) sum += plane.data[i];
      out[to + x] += sum;
    }
  }
  return out.map((v) => v / scale ** 2);
}

/** Rounds in which what lies far off the ground's tone loses its weight, and codes of 255 that are far at least. */
const ROUNDS = 8,
  FAR = 3;

/** The tone of the outermost pixels as a plane, by least squares that papers which reach the rim do not draw to themselves (Tukey's biweight). */
function borderTone(plane: Float64Array, width: number, height: number): Ground {
  const rim: { x: number; y: number; v: number }[] = [];
  const add = (x: number, y: number): void => void rim.push({ x, y, v: plane[y * width + x] });
  for (let x = 0; x < width; x++) [0, height - 1].forEach((y) => add(x, y));
  for (let y = 1; y < height - 1; y++) [0, width - 1].forEach((x) => add(x, y));
  const middle = median(rim.map(({ v }) => v));
  let ground: Ground = { level: middle, across: 0, down: 0 };
  for (let round = 0; round < ROUNDS; round++) {
    const off = rim.map(({ x, y, v }) => Math.abs(v - groundAt(ground, x, y)));
    // At first a ground that is lit unevenly, and paper, are both far off.
    const far = Math.max(FAR * 256, 3 * median(off));
    const weight = off.map((v) => (v < far ? (1 - (v / far) ** 2) ** 2 : 0));
    const total = weight.reduce((a, b) => a + b, 0);
    const mean = (of: (p: (typeof rim)[number]) => number): number => rim.reduce((sum, p, i) => sum + weight[i] * of(p), 0) / total;
    const x0 = mean((p) => p.x),
      y0 = mean((p) => p.y),
      v0 = mean((p) => p.v);
    const xx = mean((p) => (p.x - x0) ** 2),
      yy = mean((p) => (p.y - y0) ** 2),
      xy = mean((p) => (p.x - x0) * (p.y - y0)),
      xv = mean((p) => (p.x - x0) * (p.v - v0)),
      yv = mean((p) => (p.y - y0) * (p.v - v0));
    const across = xx * yy - xy * xy;
    if (across < 1e-6) break;
    ground = { level: 0, across: (xv * yy - yv * xy) / across, down: (yv * xx - xv * xy) / across };
    ground.level = v0 - ground.across * x0 - ground.down * y0;
  }
  return ground;
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
      if (!apart[at] || planes.some((plane, p) => Math.abs(plane.data[i] - groundAt(ground[p], x / scale, y / scale)) > DIFFERS * 256))
        out[i] = 1;
    }
  }
  return { mask: out, contour: contourOf(out, full, tall) };
}
