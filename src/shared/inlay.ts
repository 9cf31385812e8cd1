import { composePlaces, invertPlace, pointAt, type Projective } from './maps/place';

/** Where a picture is laid into another. */
export interface InlayPlace {
  /** Its middle, in pixels of the source. */
  x: number;
  y: number;
  /** Its width in pixels of the source. */
  width: number;
  /** Degrees clockwise. */
  turn: number;
}

interface Size {
  width: number;
  height: number;
}

interface Point {
  x: number;
  y: number;
}

/** From the pixels of a picture that is laid in to those of the source. */
export function inlayToSource({ x, y, width, turn }: InlayPlace, laid: Size): Projective {
  const scale = width / laid.width;
  const angle = (turn * Math.PI) / 180;
  const [a, b] = [scale * Math.cos(angle), scale * Math.sin(angle)];
  const [u, v] = [laid.width / 2, laid.height / 2];
  return [a, -b, x - (a * u - b * v), b, a, y - (b * u + a * v), 0, 0, 1];
}

/** From the pixels of a stream to those of the picture that is laid into it. @param place from the stream's pixels to the source's. */
export const toInlay = (at: InlayPlace, laid: Size, place: Projective): Projective =>
  composePlaces(invertPlace(inlayToSource(at, laid)), place);

/** What of a picture is laid in: all of it, or an oval that fills it. */
export type InlayShape = 'whole' | 'oval';

/** The part of a face's frame that is laid in, in parts of its side: an oval that fills it goes round the face. */
export const FACE_PART = { x: 0.1, y: 0.06, width: 0.8, height: 0.94 };

/** Two points by which a picture is held, in fractions of it: opposite corners, or the eyes of a face that an oval is cut out of. */
export const HELD_BY: Readonly<Record<InlayShape, readonly [Point, Point]>> = {
  whole: [
    { x: 0, y: 0 },
    { x: 1, y: 1 },
  ],
  oval: [
    { x: 0.306, y: 0.372 },
    { x: 0.694, y: 0.372 },
  ],
};

/** Where a picture lies whose two points are held at two places of the source. */
export function placeHeld([one, other]: readonly [Point, Point], [at, to]: readonly [Point, Point], laid: Size): InlayPlace {
  const own = { x: (other.x - one.x) * laid.width, y: (other.y - one.y) * laid.height };
  const scale = Math.hypot(to.x - at.x, to.y - at.y) / Math.hypot(own.x, own.y);
  const angle = Math.atan2(to.y - at.y, to.x - at.x) - Math.atan2(own.y, own.x);
  const [a, b] = [scale * Math.cos(angle), scale * Math.sin(angle)];
  const u = (0.5 - one.x) * laid.width,
    v = (0.5 - one.y) * laid.height;
  const degrees = (angle * 180) / Math.PI;
  return {
    x: at.x + a * u - b * v,
    y: at.y + b * u + a * v,
    width: scale * laid.width,
    turn: degrees - 360 * Math.round(degrees / 360),
  };
}

/** Where a picture lies that fills an upright part of a plan's output. @param geometry from the output's pixels to the source's. */
export function placeFilling(part: Size & Point, geometry: Projective): InlayPlace {
  const corners = HELD_BY.whole.map(({ x, y }) => pointAt(geometry, part.x + x * part.width, part.y + y * part.height));
  return placeHeld(HELD_BY.whole, [corners[0], corners[1]], part);
}

/** Settings with which a crop that was worked on elsewhere is laid back: as it is, with an edge that hides what was done up to it. */
export const BROUGHT_BACK = { edge: 6, light: 0 };

/** How far the sides of a picture may be off those of the part it fills, as a ratio. */
const OFF = 0.02;

/** Whether a picture has the shape of a part, whatever its size. */
export const fitsPart = (laid: Size, part: Size): boolean =>
  Math.abs(Math.log((laid.width * part.height) / (laid.height * part.width))) < OFF;
