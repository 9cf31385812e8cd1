import { mendDamage } from '../dirt/mend';
import { dilated } from '../fill/hole';
import { sampleBetween } from '../picture/between';
import { copyPicture, planeRegion, wholeRegion, type Picture, type Plane } from '../picture/picture';
import type { Quality } from '../treatments/quality';
import { fitPieces, movedPoint, refined, type Movement } from './fit';
import { findPieces, fullPiece, type FullPiece } from './pieces';
import { median } from '../metrics/median';

/** Where a torn print's halves came together, by hand beside what was found: pixels and degrees. */
export interface Adjustment {
  right: number;
  down: number;
  turn: number;
}

/** Widest gap between the halves, in pixels of the raster they were found on, that is healed as the tear. */
const TEAR = 2.5;

/**
 * The two largest pieces of paper on a scan laid together: the smaller is turned and moved so that the torn edges meet, and the tear is mended.
 *
 * @param picture all of the frame.
 * @returns the frame with the halves together; undefined where there are not two pieces whose edges meet.
 * @throws NetworkError when the best way needs a network that cannot be used.
 */
export async function joinHalves(picture: Picture, adjustment: Adjustment, quality: Quality): Promise<Picture | undefined> {
  const { info, region } = picture;
  const luma = [picture.planes[0]];
  const found = findPieces(luma);
  if (found.pieces.length < 2) return undefined;
  const fitted = fitPieces(found);
  if (!fitted) return undefined;
  const [one, two] = found.pieces.slice(0, 2).map((piece) => fullPiece(luma, found, piece));
  const fine = refined(fitted, one.contour, two.contour, info, 3 * found.scale);
  const movement = adjusted(fine, found.pieces[1].middle, found.scale, adjustment);
  const laid = laidTogether(picture, one, two, movement);
  const missing = tearBetween(one.mask, laid.cover, info, Math.ceil(TEAR * found.scale));
  return mendDamage(laid.picture, { region, missing }, region, { quality, seeThrough: false });
}

/** A movement with the hand's own, about the middle of the piece. */
function adjusted(movement: Movement, middle: { x: number; y: number }, scale: number, { right, down, turn }: Adjustment): Movement {
  const by = (turn * Math.PI) / 180;
  const at = movedPoint(movement, middle.x * scale, middle.y * scale);
  const origin = movedPoint({ turn: by, x: 0, y: 0 }, movement.x - at.x, movement.y - at.y);
  return { turn: movement.turn + by, x: origin.x + at.x + right, y: origin.y + at.y + down };
}

/** The frame with the second piece taken from its place and laid to the first; and where it lies now. */
function laidTogether(picture: Picture, one: FullPiece, two: FullPiece, movement: Movement): { picture: Picture; cover: Uint8Array } {
  const { info } = picture;
  const { width, height } = info;
  const made = copyPicture(picture, wholeRegion(info));
  const cover = new Uint8Array(width * height);
  const back = { turn: -movement.turn, ...movedPoint({ turn: -movement.turn, x: 0, y: 0 }, -movement.x, -movement.y) };
  // What the piece leaves takes the ground's tone.
  for (const [index, plane] of made.planes.entries()) {
    const part = planeRegion(info, index, wholeRegion(info));
    const ground = groundOf(picture.planes[index]);
    const shiftX = index ? info.chromaShiftX : 0,
      shiftY = index ? info.chromaShiftY : 0;
    for (let y = 0; y < part.height; y++) {
      for (let x = 0; x < part.width; x++) {
        const fx = Math.min(width - 1, x << shiftX),
          fy = Math.min(height - 1, y << shiftY);
        const i = fy * width + fx;
        if (two.mask[i]) plane.data[y * plane.width + x] = ground;
        if (one.mask[i]) continue;
        const from = movedPoint(back, fx + 0.5, fy + 0.5);
        const sx = Math.floor(from.x),
          sy = Math.floor(from.y);
        if (sx < 0 || sy < 0 || sx >= width || sy >= height || !two.mask[sy * width + sx]) continue;
        if (index === 0) cover[i] = 1;
        plane.data[y * plane.width + x] = Math.round(
          sampleBetween(picture.planes[index], from.x / (1 << shiftX) - 0.5, from.y / (1 << shiftY) - 0.5),
        );
      }
    }
  }
  return { picture: made, cover };
}

function groundOf({ width, height, data }: Plane): number {
  const border: number[] = [];
  for (let x = 0; x < width; x++) border.push(data[x], data[(height - 1) * width + x]);
  return median(border);
}

/** Where the halves meet: what lies within a distance of both, and the torn edges themselves, whose layer is frayed. */
function tearBetween(
  one: Uint8Array,
  two: Uint8Array,
  { width, height }: { width: number; height: number },
  reach: number,
): Uint8Array<ArrayBuffer> {
  const a = dilated(one, width, height, reach),
    b = dilated(two, width, height, reach);
  const seam = new Uint8Array(width * height);
  for (let i = 0; i < seam.length; i++) if (a[i] && b[i] && !one[i] && !two[i]) seam[i] = 1;
  // One pixel of paper to either side of the gap, where it is one.
  const gap = dilated(seam, width, height, 1);
  const edge1 = dilated(one, width, height, 1),
    edge2 = dilated(two, width, height, 1);
  for (let i = 0; i < seam.length; i++) if ((gap[i] && a[i] && b[i]) || (edge1[i] && edge2[i])) seam[i] = 1;
  return seam;
}
