import type { Picture } from '../picture/picture';
import { cutRgb, type Rgb, rgbOf } from '../vision/rgb';
import { type Face, fullRangeDetector, separate } from './detector';

/** The faces of a picture, the largest first, in fractions of its width and height. */
export interface Faces {
  faces: Face[];
}

/** Sizes of the parts that are looked at, in parts of the picture, and the shorter side in pixels from which on they are. */
const LOOKS = [
  { size: 1, from: 0 },
  { size: 0.6, from: 300 },
  { size: 0.3, from: 900 },
];
/** What a face of a part is looked at in once more: so many times as large as itself. */
const SECOND_LOOK = 3.5;
/** How sure a second look must be. */
const SURE = 0.75;

let detector: ReturnType<typeof fullRangeDetector> | undefined;

/**
 * Finds the faces of a picture: the detector sees it whole and in parts, since it tells faces by their size in what it sees, and what parts show is looked
 * at once more by itself, since they show faces in patterns.
 */
export async function findFaces(picture: Picture): Promise<Faces> {
  const whole = rgbOf(picture);
  const { width, height } = whole;
  detector ??= fullRangeDetector();
  const detect = await detector;
  const found: Face[] = [];
  for (const { size, from } of LOOKS) {
    if (Math.min(width, height) < from) continue;
    for (const { left, top, part } of partsOf(whole, size)) {
      for (const face of await detect(part)) {
        const placed = { ...face, x: face.x + left, y: face.y + top };
        if (size === 1 || (await again(placed, whole, detect))) found.push(placed);
      }
    }
  }
  const faces = separate(found)
    .sort((a, b) => b.width * b.height - a.width * a.height)
    .map((face) => ({ ...face, x: face.x / width, y: face.y / height, width: face.width / width, height: face.height / height }));
  return { faces };
}

/** Parts of a size that overlap by half. */
function partsOf(whole: Rgb, size: number): { left: number; top: number; part: Rgb }[] {
  const width = Math.round(whole.width * size),
    height = Math.round(whole.height * size);
  if (size === 1) return [{ left: 0, top: 0, part: whole }];
  const starts = (all: number, part: number): number[] => {
    const count = Math.ceil((2 * (all - part)) / part) + 1;
    return Array.from({ length: count }, (_, n) => Math.round(((all - part) * n) / Math.max(1, count - 1)));
  };
  return starts(whole.width, width).flatMap((left) =>
    starts(whole.height, height).map((top) => ({ left, top, part: cutRgb(whole, left, top, width, height) })),
  );
}

/** Whether a face is one also when it is looked at by itself. */
async function again({ x, y, width, height }: Face, whole: Rgb, detect: (picture: Rgb) => Promise<Face[]>): Promise<boolean> {
  const side = Math.round(SECOND_LOOK * Math.max(width, height));
  const left = Math.max(0, Math.min(whole.width - side, Math.round(x + width / 2 - side / 2))),
    top = Math.max(0, Math.min(whole.height - side, Math.round(y + height / 2 - side / 2)));
  const part = cutRgb(whole, left, top, Math.min(side, whole.width - left), Math.min(side, whole.height - top));
  return (await detect(part)).some(
    (face) => face.score >= SURE && Math.abs(face.x + left - x) < width / 2 && Math.abs(face.y + top - y) < height / 2,
  );
}
