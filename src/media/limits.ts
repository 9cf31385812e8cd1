import os from 'node:os';

/** Largest frame taken in, in pixels. */
export const MAX_FRAME_PIXELS = 400_000_000;

/** Bytes a frame takes while it is worked: its samples at 16 bits, as they are decoded, and as a step leaves them. */
const BYTES_A_PIXEL = 24;
/** Share of the machine's memory that one frame may take. */
export const FRAME_SHARE = 0.5;

/** Pixels from which a file must hold something of its picture, and the most that a byte may stand for: deflate's best is a thousand bytes. */
const SUSPECT_PIXELS = 16_000_000,
  MAX_PIXELS_A_BYTE = 2000;

/**
 * Why a frame of this size is refused, before any of it is decoded: what a file says of its size costs it nothing.
 * @param bytes size of the file.
 * @returns undefined when it is taken.
 */
export function refusedSize(width: number, height: number, bytes: number, memory = os.totalmem()): string | undefined {
  const pixels = width * height;
  const told = `The picture is ${width} x ${height} px`;
  if (pixels > MAX_FRAME_PIXELS) return `${told}, more than the ${MAX_FRAME_PIXELS / 1e6} megapixels that are taken in.`;
  if (pixels > SUSPECT_PIXELS && pixels > bytes * MAX_PIXELS_A_BYTE)
    return `${told} by its own word, but the file holds next to nothing of it.`;
  if (pixels * BYTES_A_PIXEL > memory * FRAME_SHARE)
    return `${told}; to work it, ${((pixels * BYTES_A_PIXEL) / 1e9).toFixed(1)} GB of memory are needed, and half of this machine's is less.`;
  return undefined;
}
