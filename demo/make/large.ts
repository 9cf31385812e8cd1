import path from 'node:path';
import sharp from 'sharp';
import { normalStream } from '../../src/core';

/** 62 megapixels: a large print at 1200 pixels an inch. */
const WIDTH = 9900,
  HEIGHT = 6300;
/** Side of the tile of grain that is laid all over. */
const TILE = 700;

/** A large scan for tiles and speed, too large to be kept: the harbour, enlarged, under the grain of its print. */
export async function makeLarge(plates: string, output: string): Promise<void> {
  const normal = normalStream(99);
  const grain = Buffer.alloc(TILE * TILE * 3);
  for (let i = 0; i < grain.length; i += 3) grain.fill(Math.max(0, Math.min(255, Math.round(128 + 14 * normal()))), i, i + 3);
  const tile = await sharp(grain, { raw: { width: TILE, height: TILE, channels: 3 } })
    .blur(0.8)
    .png()
    .toBuffer();
  await sharp(path.join(plates, 'harbour.png'))
    .removeAlpha()
    .resize(WIDTH, HEIGHT, { kernel: 'lanczos3', fit: 'cover' })
    .composite([{ input: tile, tile: true, blend: 'soft-light' }])
    .removeAlpha()
    .tiff({ compression: 'deflate', predictor: 'horizontal', tile: true, xres: 1200 / 25.4, yres: 1200 / 25.4 })
    .toFile(output);
}
