import type { FoundPieces, Piece } from './pieces';

/** How a piece is turned and moved: about the raster's origin, then along. Pixels of the scan, radians. */
export interface Movement {
  turn: number;
  x: number;
  y: number;
}

/** Turns that are tried to begin with, in degrees. */
const TURNS = [-12, -6, 0, 6, 12];
/** Pairs are sought this often, within distances that shrink from the first to the last, in pixels of the raster. */
const ROUNDS = 60,
  FIRST_NEAR = 40,
  LAST_NEAR = 2.5;
/** Points of a contour that are used at most. */
const MAX_POINTS = 900;
/** What a pixel of overlap costs, in points that touch. */
const OVERLAP = 0.35;
/** Share of a piece's contour that must touch for a fit to be one. */
const LEAST_TOUCH = 0.06;

/**
 * How the second piece is laid to the first so that their torn edges meet: nearest points of the contours, again and again (Besl and McKay,
 * 1992), of which those far from any are left out (Chetverikov et al., 2002), begun at several turns; the fit with the longest seam wins.
 * @returns undefined where no edges meet.
 */
export function fitPieces(found: FoundPieces): Movement | undefined {
  const { width, height, scale } = found;
  const [one, two] = found.pieces;
  const still = thinned(one.contour),
    moving = thinned(two.contour);
  const grid = new Grid(still, width, height);
  let best: { movement: Movement; score: number } | undefined;
  for (const degrees of TURNS) {
    let movement = towards(one, two, still, (degrees * Math.PI) / 180);
    for (let round = 0; round < ROUNDS; round++) {
      const near = FIRST_NEAR * (LAST_NEAR / FIRST_NEAR) ** (round / (ROUNDS - 1));
      const next = aligned(moving, still, grid, movement, near);
      if (!next) break;
      movement = next;
    }
    const score = scoreOf(movement, moving, grid, found);
    if (!best || score > best.score) best = { movement, score };
  }
  if (!best || best.score < (LEAST_TOUCH * moving.length) / 2) return undefined;
  return { turn: best.movement.turn, x: best.movement.x * scale, y: best.movement.y * scale };
}

/** Points used where a fit is made finer. */
const FINE_POINTS = 4000;

/** A movement made finer with contours of the scan's own pixels. @param near pixels by which it may be off. */
export function refined(
  movement: Movement,
  one: Float64Array,
  two: Float64Array,
  size: { width: number; height: number },
  near: number,
): Movement {
  const grid = new Grid(one, size.width, size.height);
  const moving = thinned(two, FINE_POINTS);
  let made = movement;
  for (let round = 0; round < ROUNDS / 2; round++) {
    const next = aligned(moving, one, grid, made, near * (1 / near) ** (round / (ROUNDS / 2 - 1)));
    if (!next) break;
    made = next;
  }
  return made;
}

/** Every few points, evenly. */
function thinned(contour: Float64Array, most = MAX_POINTS): Float64Array {
  const count = contour.length / 2;
  const stride = Math.max(1, Math.ceil(count / most));
  const out: number[] = [];
  for (let n = 0; n < count; n += stride) out.push(contour[2 * n], contour[2 * n + 1]);
  return Float64Array.from(out);
}

export const movedPoint = ({ turn, x, y }: Movement, px: number, py: number): { x: number; y: number } => ({
  x: px * Math.cos(turn) - py * Math.sin(turn) + x,
  y: px * Math.sin(turn) + py * Math.cos(turn) + y,
});

/** The second piece turned about its middle and pushed towards the first until it nearly touches. */
function towards(one: Piece, two: Piece, still: Float64Array, turn: number): Movement {
  const about = movedPoint({ turn, x: 0, y: 0 }, two.middle.x, two.middle.y);
  const movement = { turn, x: two.middle.x - about.x, y: two.middle.y - about.y };
  const way = { x: one.middle.x - two.middle.x, y: one.middle.y - two.middle.y };
  const length = Math.hypot(way.x, way.y) || 1;
  // Along the way, the first piece ends here and the second begins there.
  const along = (px: number, py: number): number => (px * way.x + py * way.y) / length;
  let first = Infinity,
    second = -Infinity;
  for (let n = 0; n < still.length; n += 2) first = Math.min(first, along(still[n], still[n + 1]));
  for (let n = 0; n < two.contour.length; n += 2) {
    const p = movedPoint(movement, two.contour[n], two.contour[n + 1]);
    second = Math.max(second, along(p.x, p.y));
  }
  const push = Math.max(0, first - second);
  return { turn, x: movement.x + (way.x / length) * push, y: movement.y + (way.y / length) * push };
}

/** Points by squares of the raster, for the nearest of them. */
class Grid {
  private static readonly SIDE = 16;
  private readonly cells = new Map<number, number[]>();
  private readonly columns: number;
  constructor(
    private readonly points: Float64Array,
    width: number,
    readonly height: number,
  ) {
    this.columns = Math.ceil(width / Grid.SIDE) + 2;
    for (let n = 0; n < points.length; n += 2) {
      const key = this.key(points[n], points[n + 1]);
      this.cells.set(key, [...(this.cells.get(key) ?? []), n]);
    }
  }
  private key(x: number, y: number): number {
    return Math.floor(y / Grid.SIDE) * this.columns + Math.floor(x / Grid.SIDE);
  }
  /** Place of the nearest point within a distance; undefined where there is none. */
  nearest(x: number, y: number, within: number): { at: number; away: number } | undefined {
    const reach = Math.ceil(within / Grid.SIDE);
    let best: { at: number; away: number } | undefined;
    for (let j = -reach; j <= reach; j++) {
      for (let i = -reach; i <= reach; i++) {
        for (const at of this.cells.get(this.key(x + i * Grid.SIDE, y + j * Grid.SIDE)) ?? []) {
          const away = Math.hypot(this.points[at] - x, this.points[at + 1] - y);
          if (away <= within && (!best || away < best.away)) best = { at, away };
        }
      }
    }
    return best;
  }
}

/** One step: the movement that brings the points nearest to those of the still contour, in the sense of least squares (Kabsch, 1976). */
function aligned(moving: Float64Array, still: Float64Array, grid: Grid, movement: Movement, near: number): Movement | undefined {
  let count = 0;
  let [ax, ay, bx, by] = [0, 0, 0, 0];
  const pairs: [number, number, number, number][] = [];
  for (let n = 0; n < moving.length; n += 2) {
    const p = movedPoint(movement, moving[n], moving[n + 1]);
    const found = grid.nearest(p.x, p.y, near);
    if (!found) continue;
    const [qx, qy] = [still[found.at], still[found.at + 1]];
    pairs.push([p.x, p.y, qx, qy]);
    ax += p.x;
    ay += p.y;
    bx += qx;
    by += qy;
    count++;
  }
  if (count < 8) return undefined;
  [ax, ay, bx, by] = [ax / count, ay / count, bx / count, by / count];
  let sine = 0,
    cosine = 0;
  for (const [px, py, qx, qy] of pairs) {
    sine += (px - ax) * (qy - by) - (py - ay) * (qx - bx);
    cosine += (px - ax) * (qx - bx) + (py - ay) * (qy - by);
  }
  const turn = Math.atan2(sine, cosine);
  const rotated = movedPoint({ turn, x: 0, y: 0 }, ax, ay);
  const step = { turn, x: bx - rotated.x, y: by - rotated.y };
  const origin = movedPoint(step, movement.x, movement.y);
  return { turn: movement.turn + turn, x: origin.x, y: origin.y };
}

/** Points that touch, less what lies over one another. */
function scoreOf(movement: Movement, moving: Float64Array, grid: Grid, { width, height, pieces: [one, two] }: FoundPieces): number {
  let touching = 0;
  for (let n = 0; n < moving.length; n += 2) {
    const p = movedPoint(movement, moving[n], moving[n + 1]);
    if (grid.nearest(p.x, p.y, LAST_NEAR)) touching++;
  }
  let over = 0;
  for (let i = 0; i < two.mask.length; i += 3) {
    if (!two.mask[i]) continue;
    const p = movedPoint(movement, (i % width) + 0.5, Math.floor(i / width) + 0.5);
    const x = Math.floor(p.x),
      y = Math.floor(p.y);
    if (x >= 0 && y >= 0 && x < width && y < height && one.mask[y * width + x]) over += 3;
  }
  // The seam itself lies over one another by a pixel.
  return touching - OVERLAP * Math.max(0, over - 2 * touching);
}
