import { inlayOfFace, type LaidPicture, reductionOf, rgbThrough } from '../core';
import { FACE_PART, inlayToSource } from '../shared/inlay';
import { composePlaces, invertPlace, placeOf, pointAt, type Place, type Projective } from '../shared/maps/place';

/** Pixels across of a face that is kept, at most and at least. */
export const FACE_WIDTHS = { most: 1024, least: 16 };

/** Pixels across of a face that others are restored by, at most: their frames are no larger. */
export const REFERENCE_WIDTH = 384;

/** The part round a face in another frame. @param mesh in pixels of its own picture. @param to from those to the other frame's. */
export function placeOfFace(mesh: ArrayLike<number>, to: Projective): Place {
  const at = inlayOfFace(mesh, PIXELS);
  const size = sizeOf(at.width);
  return placeOf(composePlaces(to, inlayToSource(at, size)), { x: 0, y: 0, ...size });
}

/**
 * What is round a face, upright, as fine as it is shown and no finer, and where its mesh lies in that.
 * @param mesh in pixels of its own picture. @param to from those to the pixels of what is shown. @param most pixels across that are kept.
 */
export function facePart(
  shown: LaidPicture,
  mesh: ArrayLike<number>,
  { to, most }: { to: Projective; most: number },
): LaidPicture & { mesh: Float32Array } {
  const at = inlayOfFace(mesh, PIXELS);
  const size = sizeOf(at.width);
  const own = reductionOf(composePlaces(to, inlayToSource(at, size)), { x: 0, y: 0, ...size });
  const { width, height } = sizeOf(Math.min(most, Math.max(FACE_WIDTHS.least, Math.round(own * size.width))));
  const region = { x: 0, y: 0, width, height: Math.round(height) };
  const fromPart = inlayToSource(at, region);
  const through = composePlaces(to, fromPart),
    toPart = invertPlace(fromPart);
  const points = new Float32Array(mesh.length);
  for (let n = 0; n < mesh.length; n += 2) {
    const { x, y } = pointAt(toPart, mesh[n], mesh[n + 1]);
    points.set([x, y], n);
  }
  const data = rgbThrough(shown, { to: through, reduction: reductionOf(through, region) }, region);
  return { width, height: region.height, data, mesh: points };
}

/** The size that meshes in pixels are fractions of. */
const PIXELS = { width: 1, height: 1 };

const sizeOf = (width: number): { width: number; height: number } => ({ width, height: (width * FACE_PART.height) / FACE_PART.width });
