export interface CurvePoint {
  x: number;
  y: number;
}

/** Slopes under this are level. */
const LEVEL = 1e-9;

/** The curve through points that run from left to right, at least two of them; never falls where they do not, and is level beyond them (Fritsch and Carlson, 1980). */
export function curveThrough(points: readonly CurvePoint[]): (x: number) => number {
  const n = points.length;
  const slopes = points.slice(1).map(({ x, y }, i) => (y - points[i].y) / Math.max(1e-6, x - points[i].x));
  const tangents = points.map((_, i) => {
    if (i === 0) return slopes[0];
    if (i === n - 1) return slopes[n - 2];
    const [a, b] = [slopes[i - 1], slopes[i]];
    return a * b <= 0 ? 0 : (a + b) / 2;
  });
  slopes.forEach((slope, i) => {
    if (Math.abs(slope) < LEVEL) {
      tangents[i] = tangents[i + 1] = 0;
      return;
    }
    const a = tangents[i] / slope,
      b = tangents[i + 1] / slope;
    const far = Math.hypot(a, b);
    if (far <= 3) return;
    tangents[i] = (3 * a * slope) / far;
    tangents[i + 1] = (3 * b * slope) / far;
  });
  return (x) => {
    if (x <= points[0].x) return points[0].y;
    if (x >= points[n - 1].x) return points[n - 1].y;
    const i = points.findLastIndex((p) => p.x <= x);
    const { x: x0, y: y0 } = points[i],
      { x: x1, y: y1 } = points[i + 1];
    const wide = x1 - x0,
      t = (x - x0) / wide;
    const t2 = t * t,
      t3 = t2 * t;
    return (
      (2 * t3 - 3 * t2 + 1) * y0 + (t3 - 2 * t2 + t) * wide * tangents[i] + (3 * t2 - 2 * t3) * y1 + (t3 - t2) * wide * tangents[i + 1]
    );
  };
}
