import type { FacePart, PartPath } from '../../shared/faceParts';
import type { MarkPoint } from '../../shared/marks';

/** Points of the mesh along the upper and the lower lip, from one corner of the mouth to the other: their outer border and their inner. */
export const LIPS = [
  { outer: [61, 185, 40, 39, 37, 0, 267, 269, 270, 409, 291], inner: [78, 191, 80, 81, 82, 13, 312, 311, 310, 415, 308] },
  { outer: [61, 146, 91, 181, 84, 17, 314, 405, 321, 375, 291], inner: [78, 95, 88, 178, 87, 14, 317, 402, 318, 324, 308] },
];
/** Corners of each eye, and the middle of its lids. */
export const EYES = [
  { corners: [33, 133], lids: [159, 145] },
  { corners: [362, 263], lids: [386, 374] },
];
/** Width of an iris in parts of its eye. */
const IRIS = 0.36;
const CHEEKS = [50, 280];
/** Size of a cheek's colour in parts of the face's width, and of what marks skin. */
const CHEEK = 0.16,
  SKIN = 0.05;
/** Cheeks and chin, the forehead, and the sides of the nose: what is skin on nearly every face, beards and glasses left aside. */
const SKINS = [
  [108, 151, 337],
  [118, 101, 36],
  [347, 330, 266],
];
/** Border of the forehead, by which hair begins. */
export const HAIRLINE = [54, 103, 67, 109, 10, 338, 297, 332, 284];
/** How far above it hair is marked, in parts of the face's height, and how broadly. */
const ABOVE = 0.17,
  HAIR = 0.06;
/** The forehead's upper end, and the lower one of the chin. */
export const TOP = 10,
  CHIN = 152;
const SIDES = [234, 454];

/**
 * What marks the parts of a face, from its mesh: paths well within each part, from which a colour spreads along the picture's own edges.
 *
 * @param mesh 468 pairs of x and y, in fractions of the picture.
 * @param picture its size in pixels.
 */
export function faceParts(mesh: ArrayLike<number>, picture: { width: number; height: number }): Record<FacePart, PartPath[]> {
  const at = (n: number): MarkPoint => ({ x: mesh[2 * n] * picture.width, y: mesh[2 * n + 1] * picture.height });
  const width = apart(at(SIDES[0]), at(SIDES[1])),
    top = at(TOP),
    chin = at(CHIN);
  const up = { x: ABOVE * (top.x - chin.x), y: ABOVE * (top.y - chin.y) };
  const height = apart(top, chin);
  return {
    skin: SKINS.map((points) => ({ points: points.map(at), size: SKIN * width })),
    cheeks: CHEEKS.map((n) => ({ points: [at(n)], size: CHEEK * width })),
    lips: LIPS.map(({ outer, inner }) => ({
      // The corners lie on skin as much as on lips.
      points: outer.map((n, i) => between(at(n), at(inner[i]))).slice(1, -1),
      size: Math.max(...outer.map((n, i) => apart(at(n), at(inner[i])))) / 2,
    })),
    eyes: EYES.map(({ corners: [a, b], lids: [c, d] }) => ({
      points: [between(between(at(a), at(b)), between(at(c), at(d)))],
      size: IRIS * apart(at(a), at(b)),
    })),
    hair: [{ points: HAIRLINE.map(at).map(({ x, y }) => ({ x: x + up.x, y: y + up.y })), size: HAIR * height }],
  };
}

const apart = (a: MarkPoint, b: MarkPoint): number => Math.hypot(a.x - b.x, a.y - b.y);
const between = (a: MarkPoint, b: MarkPoint): MarkPoint => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });
