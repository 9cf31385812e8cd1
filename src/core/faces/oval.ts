import type { Mesh } from './mesh';

/** Corners of the least convex shape round points, clockwise on screen (Andrew, 1979). */
export function convexHull(points: Mesh): { x: number; y: number }[] {
  const sorted = Array.from({ length: points.length / 2 }, (_, n) => ({ x: points[2 * n], y: points[2 * n + 1] })).sort(
    (a, b) => a.x - b.x || a.y - b.y,
  );
  const half = (from: { x: number; y: number }[]): { x: number; y: number }[] => {
    const out: { x: number; y: number }[] = [];
    for (const p of from) {
      for (let n = out.length; n > 1; n = out.length) {
        const [a, b] = [out[n - 2], out[n - 1]];
        if ((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x) > 0) break;
        out.pop();
      }
      out.push(p);
    }
    return out.slice(0, -1);
  };
  return [...half(sorted), ...half([...sorted].reverse())];
}

/**
 * Where a face is in its frame, 1 inside, fading to 0 at the mesh's outline over a part of the frame.
 * @param points the mesh in parts of the frame. @param fade in the same.
 */
export function ovalMask(points: Mesh, side: number, fade: number): Float32Array {
  const hull = convexHull(points);
  const out = new Float32Array(side * side);
  // Each edge as a line: how far a place lies inside of it is nx u + ny v + d.
  const lines = new Float64Array(3 * hull.length);
  hull.forEach((a, n) => {
    const b = hull[(n + 1) % hull.length];
    const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
    const nx = -(b.y - a.y) / length,
      ny = (b.x - a.x) / length;
    lines.set([nx, ny, -nx * a.x - ny * a.y], 3 * n);
  });
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const u = (x + 0.5) / side,
        v = (y + 0.5) / side;
      let inside = fade;
      for (let n = 0; n < lines.length && inside > 0; n += 3) {
        const by = lines[n] * u + lines[n + 1] * v + lines[n + 2];
        if (by < inside) inside = by;
      }
      const t = inside > 0 ? inside / fade : 0;
      out[y * side + x] = t * t * (3 - 2 * t);
    }
  return out;
}
