/** A point or a size in fractions of pixels. */
export interface Place {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * A projective map of the plane: three rows of three numbers, of which a point (x, y, 1) makes (u w, v w, w) (Hartley and Zisserman, Multiple
 * View Geometry, chapter 2). Coordinates are in pixels with their corners at whole numbers.
 */
export type Projective = readonly [number, number, number, number, number, number, number, number, number];

/** Where the pixels of each frame lie in the source. */
export type Geometry = (frame: number) => Projective;

export const SAME_PLACE: Projective = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** Moves and scales along the axes: u = sx x + tx, v = sy y + ty. */
export const scaling = (sx: number, sy: number, tx = 0, ty = 0): Projective => [sx, 0, tx, 0, sy, ty, 0, 0, 1];

/** First `before`, then `after`. */
export function composePlaces(after: Projective, before: Projective): Projective {
  if (after === SAME_PLACE) return before;
  if (before === SAME_PLACE) return after;
  const [a, b] = [after, before];
  const cell = (row: number, column: number): number =>
    a[3 * row] * b[column] + a[3 * row + 1] * b[3 + column] + a[3 * row + 2] * b[6 + column];
  return [cell(0, 0), cell(0, 1), cell(0, 2), cell(1, 0), cell(1, 1), cell(1, 2), cell(2, 0), cell(2, 1), cell(2, 2)];
}

/** The way back. @throws RangeError where the map has none. */
export function invertPlace(m: Projective): Projective {
  const [a, b, c, d, e, f, g, h, i] = m;
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(determinant) < 1e-12) throw new RangeError('the map is not invertible');
  const s = 1 / determinant;
  return [
    (e * i - f * h) * s,
    (c * h - b * i) * s,
    (b * f - c * e) * s,
    (f * g - d * i) * s,
    (a * i - c * g) * s,
    (c * d - a * f) * s,
    (d * h - e * g) * s,
    (b * g - a * h) * s,
    (a * e - b * d) * s,
  ];
}

export function pointAt(m: Projective, x: number, y: number): { x: number; y: number } {
  const w = m[6] * x + m[7] * y + m[8];
  return { x: (m[0] * x + m[1] * y + m[2]) / w, y: (m[3] * x + m[4] * y + m[5]) / w };
}

/** Whether upright rectangles stay upright and level. */
export const keepsAxes = (m: Projective): boolean => m[1] === 0 && m[3] === 0 && m[6] === 0 && m[7] === 0 && m[0] > 0 && m[4] > 0;

/** The least upright rectangle round what a rectangle becomes. */
export function placeOf(m: Projective, { x, y, width, height }: Place): Place {
  const corners = [pointAt(m, x, y), pointAt(m, x + width, y), pointAt(m, x, y + height), pointAt(m, x + width, y + height)];
  const xs = corners.map((p) => p.x),
    ys = corners.map((p) => p.y);
  const left = Math.min(...xs),
    top = Math.min(...ys);
  return { x: left, y: top, width: Math.max(...xs) - left, height: Math.max(...ys) - top };
}

/** A part that is told in fractions of a frame, in its pixels, widened to even ones. */
export function evenPart({ x, y, width, height }: Place, frame: { width: number; height: number }): Place {
  const even = (from: number, to: number, size: number): [number, number] => [
    Math.max(0, 2 * Math.floor((from * size) / 2)),
    Math.min(size, 2 * Math.ceil((to * size) / 2)),
  ];
  const [left, right] = even(x, x + width, frame.width),
    [top, bottom] = even(y, y + height, frame.height);
  return { x: left, y: top, width: right - left, height: bottom - top };
}
