import { type StreamInfo } from '../../picture/picture';
import { displayWidth } from '../../../shared/display';
import { PlanError } from '../treatment';

/** Boxes of the named sizes; a picture is made as large as fits, upright ones in the turned box. */
export const NAMED_SIZES = {
  '720p': { width: 1280, height: 720 },
  '1080p': { width: 1920, height: 1080 },
  '1440p': { width: 2560, height: 1440 },
  '2160p': { width: 3840, height: 2160 },
  '4320p': { width: 7680, height: 4320 },
} as const;

export type NamedSize = keyof typeof NAMED_SIZES;

/** Largest side and area of a result, so that a slip of the hand cannot ask for the impossible. */
export const MAX_SIDE = 32_768;
export const MAX_PIXELS = 600_000_000;

/** Even sizes for moving images, whose chroma is coarser; whole pixels for stills. */
const whole = (v: number, even: boolean): number => (even ? 2 * Math.round(v / 2) : Math.round(v));

/** Size in square pixels of a picture enlarged `scale` times its own height. */
function scaledSize(input: StreamInfo, scale: number): { width: number; height: number } {
  const even = input.frames > 1;
  const size = { width: whole(displayWidth(input) * scale, even), height: whole(input.height * scale, even) };
  if (size.width > MAX_SIDE || size.height > MAX_SIDE || size.width * size.height > MAX_PIXELS) {
    throw new PlanError(
      `Upscale would make ${size.width} x ${size.height} px; the limit is ${MAX_SIDE} a side and ${MAX_PIXELS / 1e6} megapixels.`,
    );
  }
  if (size.width < 2 || size.height < 2) throw new PlanError('Upscale would leave less than 2 x 2 px.');
  return size;
}

/** A number of times the picture's own height, with square pixels. */
export const byFactor = scaledSize;

/** As large as fits the named box: 720 x 480 at 8:9 becomes 1440 x 1080 for 1080p. */
export function byName(input: StreamInfo, name: NamedSize): { width: number; height: number } {
  const box = NAMED_SIZES[name];
  const wide = displayWidth(input);
  const [w, h] = wide >= input.height || input.frames > 1 ? [box.width, box.height] : [box.height, box.width];
  return scaledSize(input, Math.min(w / wide, h / input.height));
}

/** Pixels for a printed width in centimetres at a number of pixels an inch. */
export function byPrint(input: StreamInfo, centimetres: number, ppi: number): { width: number; height: number } {
  return scaledSize(input, ((centimetres / 2.54) * ppi) / displayWidth(input));
}
