import { FACE_PART, type InlayPlace } from '../../shared/inlay';
import { frameOf } from './mesh';

/** Where the part of a face that is laid into pictures lies in its own. @param mesh in fractions of the picture. @param picture its size in pixels. */
export function inlayOfFace(mesh: ArrayLike<number>, picture: { width: number; height: number }): InlayPlace {
  const { a, b, x, y } = frameOf(
    Float32Array.from(mesh, (v, i) => v * (i % 2 ? picture.height : picture.width)),
    1,
  );
  const u = FACE_PART.x + FACE_PART.width / 2,
    v = FACE_PART.y + FACE_PART.height / 2;
  return {
    x: a * u - b * v + x,
    y: b * u + a * v + y,
    width: FACE_PART.width * Math.hypot(a, b),
    turn: (Math.atan2(b, a) * 180) / Math.PI,
  };
}
