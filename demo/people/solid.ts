import type { Vector } from './head';

/** A surface of triangles. */
export interface Solid {
  points: Vector[];
  /** Outwards, of length 1, one a point. */
  normals: Vector[];
  faces: [number, number, number][];
}

/** A grid of points, row by row, as a smooth surface. */
export function gridSolid(points: Vector[], width: number, height: number): Solid {
  const normals: Vector[] = points.map(() => [0, 0, 0]);
  const faces: Solid['faces'] = [];
  const face = (a: number, b: number, c: number): void => {
    const [p, q, r] = [points[a], points[b], points[c]];
    const u = q.map((v, i) => v - p[i]),
      w = r.map((v, i) => v - p[i]);
    const n: Vector = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
    for (const k of [a, b, c]) for (let i = 0; i < 3; i++) normals[k][i] += n[i];
    faces.push([a, b, c]);
  };
  for (let j = 0; j + 1 < height; j++) {
    for (let i = 0; i + 1 < width; i++) {
      const a = j * width + i;
      face(a, a + 1, a + width);
      face(a + 1, a + width + 1, a + width);
    }
  }
  // Whichever way round its rows go: away from the middle.
  const middle = [0, 1, 2].map((i) => points.reduce((sum, p) => sum + p[i], 0) / points.length);
  const away = points.reduce((sum, p, k) => sum + normals[k].reduce((s, n, i) => s + n * (p[i] - middle[i]), 0), 0) > 0 ? 1 : -1;
  return {
    points,
    normals: normals.map((n): Vector => {
      const length = away * Math.hypot(...n);
      return length !== 0 ? [n[0] / length, n[1] / length, n[2] / length] : [0, 1, 0];
    }),
    faces,
  };
}

export const v3 = ([x, y, z]: number[]): string => `<${x.toFixed(4)},${y.toFixed(4)},${z.toFixed(4)}>`;

/** As POV-Ray reads it; `place` says where in the texture's picture a point lies, 0 to 1. */
export function povMesh({ points, normals, faces }: Solid, place: (p: Vector) => [number, number], texture: string): string {
  const uv = points.map((p) => {
    const [u, v] = place(p);
    return `<${u.toFixed(4)},${v.toFixed(4)}>`;
  });
  return `mesh2 { vertex_vectors { ${points.length}, ${points.map(v3).join(',')} }
normal_vectors { ${normals.length}, ${normals.map(v3).join(',')} }
uv_vectors { ${uv.length}, ${uv.join(',')} }
face_indices { ${faces.length}, ${faces.map((f) => `<${f.join(',')}>`).join(',')} }
uv_mapping ${texture} }\n`;
}
