/** Largest frame taken in, in pixels. */
export const MAX_FRAME_PIXELS = 400_000_000;

/** Why a frame of this size is refused. */
export function tooLarge(width: number, height: number): string {
  return `The picture is ${width} x ${height} px, more than the ${MAX_FRAME_PIXELS / 1e6} megapixels that are taken in.`;
}
