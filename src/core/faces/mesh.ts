import { liteModel } from '../vision/liteRt';
import type { Rgb } from '../vision/rgb';
import { type Box, type Similarity, fitted, invert, moved } from './frame';
import { sampledRgb } from './sampled';

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
 * @returns meshes in pixels of the picture; `angle` is how far a face is known to be tilted, clockwise, in radians.
 */
export async function meshNetwork(): Promise<(picture: Rgb, face: Box, angle?: number) => Promise<MeshFound>> {
  const model = await liteModel('@mediapipe/face_mesh', FILE.name, FILE);
  const seen = async (picture: Rgb, toPicture: Similarity): Promise<MeshFound> => {
    const outputs = await model.run(
      sampledRgb(picture, toPicture, SIDE).map((v) => v / 255),
      [1, SIDE, SIDE, 3],
    );
    const [points, score] = outputs.sort((a, b) => b.length - a.length);
    const mesh = new Float32Array(2 * POINTS);
    for (let n = 0; n < POINTS; n++) moved(toPicture, points[3 * n], points[3 * n + 1], mesh, 2 * n);
    return { mesh, score: 1 / (1 + Math.exp(-score[0])) };
  };
  return async (picture, face, angle = 0) => {
    const { mesh } = await seen(picture, boxed(face, angle));
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

/** The similarity that takes the frame's places of eyes, nose and mouth to a mesh's, in pixels of the picture. */
export const frameOf = (mesh: Mesh, side: number): Similarity => invert(fitted(landmarksOf(mesh), side));
