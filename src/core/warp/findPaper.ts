import { sampleBetween } from '../picture/between';
import type { Plane } from '../picture/picture';
import { findPieces, type FoundPieces, type Piece } from '../torn/pieces';
import { isConvex, type Point, type Quadrilateral } from './quadrilateral';
import { median } from '../metrics/median';

/** Share of the frame's rim that a piece may touch: what goes on beyond the frame has no corners in it. */
const RIM = 0.02;
/** Area of the four corners against the hull's: within these it has four straight sides; and share of the hull that the piece fills. */
const FULL = 0.8;
const STRAIGHT = { least: 0.96, most: 1.05 };
/** Places along a side that its edge is sought at, the share of it at either end that is not, and how far to both sides, in raster pixels. */
const PLACES = 160,
  ENDS = 0.05,
  REACH = 2.5;
/** Rounds of fitting a line, and deviations from it beyond which a place no longer counts. */
const ROUNDS = 6,
  OUTLIER = 2.5;

/** The prints on a scan or a photograph of them, before an even ground: corners in pixels, the largest first. */
export function findPapers(luma: Plane): Quadrilateral[] {
  const found = findPieces([luma]);
  return found.pieces.flatMap((piece) => {
    const corners = paperOf(luma, found, piece);
    return corners ? [corners] : [];
  });
}

function paperOf(luma: Plane, found: FoundPieces, piece: Piece): Quadrilateral | undefined {
  if (touchesRim(piece, found)) return undefined;
  const hull = hullOf(piece.contour);
  const coarse = fourCorners(hull);
  if (!coarse) return undefined;
  // Where a dark part of the picture meets dark ground the piece has a bite, its hull has none.
  const share = areaOf(coarse) / areaOf(hull);
  if (piece.pixels < FULL * areaOf(hull)) return undefined;
  if (share < STRAIGHT.least || share > STRAIGHT.most) return undefined;
  const rough = fromUpperLeft(coarse).map(({ x, y }) => ({ x: x * found.scale, y: y * found.scale }));
  const lines = rough.map((from, i) => sideThrough(luma, from, rough[(i + 1) % 4], Math.max(3, REACH * found.scale)));
  if (lines.some((line) => line === undefined)) return undefined;
  const corners = lines.map((line, i) => crossing(lines[(i + 3) % 4] as Line, line as Line)) as unknown as Quadrilateral;
  return isConvex(corners) ? corners : undefined;
}

function touchesRim({ contour }: Piece, { width, height }: FoundPieces): boolean {
  let touching = 0;
  for (let i = 0; i < contour.length; i += 2) {
    if (contour[i] < 1 || contour[i + 1] < 1 || contour[i] > width - 1 || contour[i + 1] > height - 1) touching++;
  }
  return touching > (RIM * contour.length) / 2;
}

/** The convex hull, clockwise on the screen (Andrew, 1979). */
function hullOf(contour: Float64Array): Point[] {
  const points = Array.from({ length: contour.length / 2 }, (_, i) => ({ x: contour[2 * i], y: contour[2 * i + 1] })).sort(
    (a, b) => a.x - b.x || a.y - b.y,
  );
  const half = (sorted: Point[]): Point[] => {
    const chain: Point[] = [];
    for (const p of sorted) {
      while (chain.length > 1 && turnAt(chain[chain.length - 2], chain[chain.length - 1], p) <= 0) chain.pop();
      chain.push(p);
    }
    return chain.slice(0, -1);
  };
  return [...half(points), ...half(points.reverse())];
}

const turnAt = (a: Point, b: Point, c: Point): number => (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);

/** Leaves out side after side, those first whose neighbours meet with the least area added, until there are four. */
function fourCorners(hull: Point[]): Quadrilateral | undefined {
  let points = hull;
  while (points.length > 4) {
    let best: { at: number; corner: Point; area: number } | undefined;
    for (let at = 0; at < points.length; at++) {
      const [a, b, c, d] = [-1, 0, 1, 2].map((k) => points[(at + k + points.length) % points.length]);
      const corner = meeting(a, b, d, c);
      if (!corner) continue;
      const area = Math.abs(turnAt(b, corner, c)) / 2;
      if (!best || area < best.area) best = { at, corner, area };
    }
    if (!best) return undefined;
    const { at, corner } = best;
    points = points.flatMap((p, i) => (i === at ? [corner] : i === (at + 1) % points.length ? [] : [p]));
  }
  return points.length === 4 ? (points as unknown as Quadrilateral) : undefined;
}

/** Where a line from a through b and one from d through c meet beyond b and c. */
function meeting(a: Point, b: Point, d: Point, c: Point): Point | undefined {
  const ux = b.x - a.x,
    uy = b.y - a.y,
    vx = c.x - d.x,
    vy = c.y - d.y;
  const across = ux * vy - uy * vx;
  if (Math.abs(across) < 1e-9) return undefined;
  const t = ((d.x - a.x) * vy - (d.y - a.y) * vx) / across;
  return t >= 1 ? { x: a.x + t * ux, y: a.y + t * uy } : undefined;
}

function areaOf(points: readonly Point[]): number {
  const next = (i: number): Point => points[(i + 1) % points.length];
  return Math.abs(points.reduce((sum, p, i) => sum + p.x * next(i).y - next(i).x * p.y, 0)) / 2;
}

/** Corners of a quadrilateral, which run clockwise, begun with the one nearest to the upper left of the frame. */
function fromUpperLeft(corners: Quadrilateral): Point[] {
  const first = corners.reduce((best, p, i) => (p.x + p.y < corners[best].x + corners[best].y ? i : best), 0);
  return corners.map((_, i) => corners[(first + i) % 4]);
}

/** A line through a point in a direction of length 1. */
interface Line {
  x: number;
  y: number;
  dx: number;
  dy: number;
}

/** The edge of the paper between two rough corners: the steepest step at many places across it, and a line through most of them. */
function sideThrough(luma: Plane, from: Point, to: Point, reach: number): Line | undefined {
  const long = Math.hypot(to.x - from.x, to.y - from.y);
  const along = { x: (to.x - from.x) / long, y: (to.y - from.y) / long };
  // Clockwise on the screen, the paper lies to the right of the way.
  const inwards = { x: -along.y, y: along.x };
  const found: Point[] = [];
  for (let n = 0; n < PLACES; n++) {
    const t = (ENDS + ((1 - 2 * ENDS) * n) / (PLACES - 1)) * long;
    const at = (off: number): number =>
      sampleBetween(luma, from.x + t * along.x + off * inwards.x - 0.5, from.y + t * along.y + off * inwards.y - 0.5);
    const off = steepest(at, reach);
    if (off !== undefined) found.push({ x: from.x + t * along.x + off * inwards.x, y: from.y + t * along.y + off * inwards.y });
  }
  return found.length > PLACES / 3 ? lineThrough(found) : undefined;
}

/** Pixels over which a step is measured, and codes of 255 it has at least. */
const STEP = 1.5,
  LEAST_STEP = 8;

/** Where samples along a way change most, between pixels; undefined where they hardly do. */
function steepest(at: (off: number) => number, reach: number): number | undefined {
  const unit = 0.5,
    count = Math.ceil(reach / unit);
  const steps = Array.from({ length: 2 * count + 1 }, (_, i) =>
    Math.abs(at((i - count) * unit + STEP / 2) - at((i - count) * unit - STEP / 2)),
  );
  const best = steps.reduce((b, v, i) => (v > steps[b] ? i : b), 0);
  if (steps[best] < LEAST_STEP * 256 || best === 0 || best === 2 * count) return undefined;
  const [a, b, c] = [steps[best - 1], steps[best], steps[best + 1]];
  const bend = a - 2 * b + c;
  return (best - count + (bend < 0 ? (a - c) / (2 * bend) : 0)) * unit;
}

/** The line that most points lie by: least squares of the distances, again and again with far points weighing nothing (Tukey's biweight). */
function lineThrough(points: Point[]): Line {
  let weights = points.map(() => 1);
  let line: Line = { x: 0, y: 0, dx: 1, dy: 0 };
  for (let round = 0; round < ROUNDS; round++) {
    const total = weights.reduce((a, b) => a + b, 0);
    const mean = (of: (p: Point) => number): number => points.reduce((sum, p, i) => sum + weights[i] * of(p), 0) / total;
    const x = mean((p) => p.x),
      y = mean((p) => p.y);
    const angle = Math.atan2(2 * mean((p) => (p.x - x) * (p.y - y)), mean((p) => (p.x - x) ** 2) - mean((p) => (p.y - y) ** 2)) / 2;
    line = { x, y, dx: Math.cos(angle), dy: Math.sin(angle) };
    const off = points.map((p) => Math.abs((p.x - line.x) * line.dy - (p.y - line.y) * line.dx));
    const scale = OUTLIER * Math.max(0.2, 1.48 * median(off));
    weights = off.map((v) => (v < scale ? (1 - (v / scale) ** 2) ** 2 : 0));
  }
  return line;
}

function crossing(a: Line, b: Line): Point {
  const across = a.dx * b.dy - a.dy * b.dx;
  const t = ((b.x - a.x) * b.dy - (b.y - a.y) * b.dx) / across;
  return { x: a.x + t * a.dx, y: a.y + t * a.dy };
}
