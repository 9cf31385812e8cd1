import path from 'node:path';
import sharp from 'sharp';
import { softened } from './carriers';
import { addGrain, printFaults } from './faults';
import { bytesOf, loadPlate, type Raster } from './raster';

/** A colour print of two people on a bench, scanned at 300 ppi with its white border. */
export async function makePrint(plates: string, output: string): Promise<void> {
  const picture = await loadPlate(path.join(plates, 'bench.png'));
  printFaults(picture, 31);
  addGrain(picture, 500, 5, 3, 0.8);
  const border = 48;
  await sharp(bytesOf(picture), { raw: { width: picture.width, height: picture.height, channels: 3 } })
    .extend({ top: border, bottom: border, left: border, right: border, background: { r: 236, g: 228, b: 212 } })
    .withDensity(300)
    .jpeg({ quality: 88, chromaSubsampling: '4:4:4' })
    .toFile(output);
}

/** A small studio portrait, scanned with 16 bits. */
export async function makePortrait(plates: string, output: string): Promise<void> {
  const picture = await loadPlate(path.join(plates, 'portrait.png'));
  // An old lens: a little soft, and light falls off to the corners.
  await softened(picture, 1);
  for (let i = 0; i < picture.data.length; i += 4) {
    const x = (i / 4) % picture.width,
      y = Math.floor(i / 4 / picture.width);
    const light = 1.05 - 0.55 * Math.hypot(x / picture.width - 0.5, y / picture.height - 0.42) ** 2;
    for (let c = 0; c < 3; c++) picture.data[i + c] *= light;
  }
  addGrain(picture, 900, 10, 2, 0.7);
  const rgb = deep(picture);
  await sharp(rgb, { raw: { width: picture.width, height: picture.height, channels: 3 } })
    .toColourspace('rgb16')
    .tiff({ compression: 'deflate', predictor: 'horizontal', xres: 600 / 25.4, yres: 600 / 25.4 })
    .toFile(output);
}

/** 16-bit samples of a picture. */
function deep(picture: Raster): Uint16Array {
  const out = new Uint16Array(picture.width * picture.height * 3);
  for (let i = 0, o = 0; i < picture.data.length; i += 4, o += 3) {
    for (let c = 0; c < 3; c++) out[o + c] = Math.max(0, Math.min(65535, Math.round(picture.data[i + c] * 257)));
  }
  return out;
}
