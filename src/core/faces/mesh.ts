import { liteModel } from '../vision/liteRt';
import type { Rgb } from '../vision/rgb';
import { type Box, type Similarity, fitted, invert, moved } from './frame';

/** Points of a face's mesh: 468 pairs of x and y. */
export type Mesh = Float32Array;

/** A mesh, and how sure its network is that there is a face, 0 to 1. */
export interface MeshFound {
  mesh: Mesh;
  score: number;
}

const POINTS = 468;
/** A face as its network takes it. */
const SIDE = 192;
/** How much more than the face's box it sees. */
const MARGIN = 1.5;
/** Where the network lies in its package's file. */
const FILE = { name: 'face_mesh_solution_packed_assets.data', start: 2495952, end: 3737848 };

/** The five points that a face is laid straight by, each as the mean of points of the mesh: the eyes (the picture's left one first), the nose's tip, the mouth's corners. */
const LANDMARKS = [[33, 133, 159, 145], [362, 263, 386, 374], [1], [61], [291]];

/** Eyes, nose and mouth of a mesh, in its coordinates: five pairs. */
export function landmarksOf(mesh: Mesh): Float64Array {
  const out = new Float64Array(2 * LANDMARKS.length);
  LANDMARKS.forEach((points, n) => {
    for (const axis of [0, 1]) out[2 * n + axis] = points.reduce((sum, p) => sum + mesh[2 * p + axis], 0) / points.length;
  });
  return out;
}

/**
 * Lays a mesh over faces (face_landmark of the package @mediapipe/face_mesh, Apache-2.0): first over the box as it is, then once more with the eyes
 * level, which is how it has learned faces.
 * @returns meshes in pixels of the picture.
 */
export async function meshNetwork(): Promise<(picture: Rgb, face: Box) => Promise<MeshFound>> {
  const model = await liteModel('@mediapipe/face_mesh', FILE.name, FILE);
  const seen = async (picture: Rgb, toPicture: Similarity): Promise<MeshFound> => {
    const outputs = await model.run(sampled(picture, toPicture), [1, SIDE, SIDE, 3]);
    const [points, score] = outputs.sort((a, b) => b.length - a.length);
    const mesh = new Float32Array(2 * POINTS);
    for (let n = 0; n < POINTS; n++) moved(toPicture, points[3 * n], points[3 * n + 1], mesh, 2 * n);
    return { mesh, score: 1 / (1 + Math.exp(-score[0])) };
  };
  return async (picture, face) => {
    const { mesh } = await seen(picture, boxed(face, 0));
    const [lx, ly, rx, ry] = landmarksOf(mesh);
    return seen(picture, boxed(boundsOf(mesh), Math.atan2(ry - ly, rx - lx)));
  };
}

/** From the network's square to the picture: a box with its margin, turned about its middle. */
function boxed({ x, y, width, height }: Box, angle: number): Similarity {
  const scale = (MARGIN * Math.max(width, height)) / SIDE;
  const a = scale * Math.cos(angle),
    b = scale * Math.sin(angle);
  const half = SIDE / 2;
  return { a, b, x: x + width / 2 - (a * half - b * half), y: y + height / 2 - (b * half + a * half) };
}

/** The box around a mesh. */
export function boundsOf(mesh: Mesh): Box {
  let left = Infinity,
    top = Infinity,
    right = -Infinity,
    bottom = -Infinity;
  for (let n = 0; n < mesh.length; n += 2) {
    left = Math.min(left, mesh[n]);
    right = Math.max(right, mesh[n]);
    top = Math.min(top, mesh[n + 1]);
    bottom = Math.max(bottom, mesh[n + 1]);
  }
  return { x: left, y: top, width: right - left, height: bottom - top };
}

/** The square's samples, 0 to 1: means where the picture is reduced, between samples where it is enlarged, the border's own beyond it. */
function sampled({ data, width, height }: Rgb, at: Similarity): Float32Array {
  const out = new Float32Array(3 * SIDE * SIDE);
  const scale = Math.hypot(at.a, at.b);
  const n = Math.max(1, Math.ceil(scale));
  const spot = new Float32Array(2);
  for (let y = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++) {
      const o = 3 * (y * SIDE + x);
      for (let v = 0; v < n; v++) {
        for (let u = 0; u < n; u++) {
          moved(at, x + (u + 0.5) / n, y + (v + 0.5) / n, spot, 0);
          const px = Math.min(width - 1, Math.max(0, spot[0] - 0.5)),
            py = Math.min(height - 1, Math.max(0, spot[1] - 0.5));
          const x0 = Math.floor(px),
            y0 = Math.floor(py),
            x1 = Math.min(width - 1, x0 + 1),
            y1 = Math.min(height - 1, y0 + 1),
            fx = px - x0,
            fy = py - y0;
          for (let c = 0; c < 3; c++) {
            const top = data[3 * (y0 * width + x0) + c] * (1 - fx) + data[3 * (y0 * width + x1) + c] * fx,
              bottom = data[3 * (y1 * width + x0) + c] * (1 - fx) + data[3 * (y1 * width + x1) + c] * fx;
            out[o + c] += (top * (1 - fy) + bottom * fy) / (255 * n * n);
          }
        }
      }
    }
  }
  return out;
}

/** The similarity that takes the frame's places of eyes, nose and mouth to a mesh's, in pixels of the picture. */
export const frameOf = (mesh: Mesh, side: number): Similarity => invert(fitted(landmarksOf(mesh), side));
