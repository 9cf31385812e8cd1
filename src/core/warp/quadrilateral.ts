import type { Projective } from '../../shared/maps/place';

export interface Point {
  x: number;
  y: number;
}

/** Corners from the upper left one, clockwise. */
export type Quadrilateral = readonly [Point, Point, Point, Point];

/** The map that takes the corners of a rectangle at the origin to those of a quadrilateral (Heckbert, 1989). */
export function rectangleTo([p0, p1, p2, p3]: Quadrilateral, width: number, height: number): Projective {
  const dx1 = p1.x - p2.x,
    dx2 = p3.x - p2.x,
    dy1 = p1.y - p2.y,
    dy2 = p3.y - p2.y;
  const sx = p0.x - p1.x + p2.x - p3.x,
    sy = p0.y - p1.y + p2.y - p3.y;
  const across = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / across,
    h = (dx1 * sy - sx * dy1) / across;
  const unit = [p1.x - p0.x + g * p1.x, p3.x - p0.x + h * p3.x, p0.x, p1.y - p0.y + g * p1.y, p3.y - p0.y + h * p3.y, p0.y, g, h, 1];
  return unit.map((v, i) => (i % 3 === 0 ? v / width : i % 3 === 1 ? v / height : v)) as unknown as Projective;
}

/** Whether corners run clockwise and none is turned in. */
export function isConvex(corners: Quadrilateral): boolean {
  return corners.every((b, i) => {
    const a = corners[(i + 3) % 4],
      c = corners[(i + 1) % 4];
    return (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x) > 0;
  });
}

/** Longest opposite sides of a quadrilateral: no pixel of it is given up. */
export function sidesOf([a, b, c, d]: Quadrilateral): { width: number; height: number } {
  const far = (p: Point, q: Point): number => Math.hypot(p.x - q.x, p.y - q.y);
  return { width: Math.max(far(a, b), far(d, c)), height: Math.max(far(a, d), far(b, c)) };
}

/** How far the share of a paper's sides may be from what its picture says; undefined where lines of it run in parallel. */
const LEAST_TILT = 1e-4;

/**
 * Width against height of the flat rectangle whose photograph a quadrilateral is, the lens looking at the picture's middle (Zhang and He,
 * 2007); that of its sides where it was taken from straight above.
 */
export function trueShape(corners: Quadrilateral, frame: { width: number; height: number }): number {
  const { width, height } = sidesOf(corners);
  const centred = corners.map(({ x, y }) => [x - frame.width / 2, y - frame.height / 2, 1]);
  const [m1, m2, m4, m3] = centred;
  const cross = (a: number[], b: number[]): number[] => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  const dot = (a: number[], b: number[]): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const k2 = dot(cross(m1, m4), m3) / dot(cross(m2, m4), m3),
    k3 = dot(cross(m1, m4), m2) / dot(cross(m3, m4), m2);
  const n2 = m2.map((v, i) => k2 * v - m1[i]),
    n3 = m3.map((v, i) => k3 * v - m1[i]);
  const tilt = n2[2] * n3[2];
  if (Math.abs(n2[2]) < LEAST_TILT || Math.abs(n3[2]) < LEAST_TILT) return width / height;
  const focal2 = -(n2[0] * n3[0] + n2[1] * n3[1]) / tilt;
  const long = Math.max(frame.width, frame.height);
  // No lens sees so wide or so far: the corners are not exact enough to tell.
  if (!(focal2 > (0.4 * long) ** 2 && focal2 < (8 * long) ** 2)) return width / height;
  const length = (n: number[]): number => (n[0] ** 2 + n[1] ** 2) / focal2 + n[2] ** 2;
  return Math.sqrt(length(n2) / length(n3));
}
