import type { Picture } from '../picture/picture';
import { fewerPixels, rgbOf } from '../vision/rgb';
import { type Descriptor, describer } from './descriptors';
import { type Faces, MAX_PIXELS } from './find';
import { within } from './frame';
import { frameOf } from './mesh';
import { sampledRgb } from './sampled';

/** A face as people are known by it. */
export interface DescribedFace {
  /** Its box, in fractions of the picture. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** Width in pixels of the picture. */
  pixels: number;
  /** Deviation of the point spread, in pixels; left out where it could not be measured. */
  blur?: number;
  /** Degrees it is turned to its own left. */
  yaw: number;
  residual: Descriptor;
  separable: Descriptor;
  /** It laid straight with what is round it: red, green and blue, 0 to 255, `PORTRAIT` pixels a side. */
  square: Float32Array;
}

/** Frames of a film along which a face is seen, and the one that shows it best. */
export interface FaceSpan {
  first: number;
  last: number;
  best: number;
}

/** A described face whose square became a JPEG. */
export interface FoundAppearance extends Omit<DescribedFace, 'square'> {
  portrait: Uint8Array;
  /** Where a film shows it; left out of stills. */
  along?: FaceSpan;
}

/** Side of the squares that people are shown by, and how much more than the face's frame they show. */
export const PORTRAIT = 240;
const MARGIN = 0.25;

/** Describes the faces that were found in a picture by two networks; faces without a mesh cannot be laid straight, and are left out. */
export async function describeFaces(picture: Picture, { faces }: Faces): Promise<DescribedFace[]> {
  const rgb = rgbOf(fewerPixels(picture, MAX_PIXELS));
  const networks = await Promise.all([describer('residual'), describer('separable')]);
  const described: DescribedFace[] = [];
  for (const { mesh, x, y, width: w, height: h, pixels, blur, yaw } of faces) {
    if (!mesh) continue;
    const frame = frameOf(
      Float32Array.from(mesh, (v, i) => v * (i % 2 ? rgb.height : rgb.width)),
      1,
    );
    const [residual, separable] = [await networks[0].at(rgb, frame), await networks[1].at(rgb, frame)];
    const side = 1 + 2 * MARGIN;
    const square = sampledRgb(rgb, within(frame, { a: side / PORTRAIT, b: 0, x: -MARGIN, y: -MARGIN }), PORTRAIT);
    described.push({ ...{ x, y, width: w, height: h, pixels, yaw, residual, separable, square }, ...(blur !== undefined && { blur }) });
  }
  return described;
}
