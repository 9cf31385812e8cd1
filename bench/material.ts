import { readdirSync } from 'node:fs';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { Random, noiseField } from './noise';
import { deadLeaves, type Texture } from './textures';

/** An 8-bit RGB picture. */
export interface Rgb {
  width: number;
  height: number;
  data: Uint8Array;
}

/** A clean picture and what it shows. */
export interface Clean {
  name: string;
  kind: string;
  truth: Rgb;
}

const MADE = process.env.WAIRETIC_TRAINING ?? path.resolve(import.meta.dirname, '../training/made');
const DEMO = path.resolve(import.meta.dirname, '../demo/truth');
/** Long sides at which the demo's people are judged, in turn: what restorers get is of every size. */
const PORTRAIT_SIDES = [900, 480, 240, 160];

/** Pictures no network has seen, as `training/heldOut.py` writes them, and the demo's people before their carriers. */
export async function cleanPictures(): Promise<Clean[]> {
  const held = path.join(MADE, 'held');
  const found: Clean[] = [];
  for (const file of readdirSync(held).sort())
    found.push({ name: path.parse(file).name, kind: file.split('-')[0], truth: await readRgb(path.join(held, file)) });
  // The slide is shown in its black mount, which Crop rightly takes off.
  const people = readdirSync(DEMO).filter((f) => f.endsWith('.jpg') && !f.startsWith('Slide'));
  for (const [n, file] of people.sort().entries())
    for (const side of [PORTRAIT_SIDES[n % 2], PORTRAIT_SIDES[2 + (n % 2)]])
      found.push({ name: `${path.parse(file).name}, ${side} px`, kind: 'portrait', truth: await readRgb(path.join(DEMO, file), side) });
  found.push({ name: 'leaves, 12 megapixels', kind: 'large', truth: greyRgb(deadLeaves(4000, 3000, 31)) });
  return found;
}

const greyRgb = ({ width, height, data }: Texture): Rgb => ({
  width,
  height,
  data: Uint8Array.from({ length: 3 * width * height }, (_, i) => Math.min(255, Math.max(0, Math.round(data[Math.floor(i / 3)])))),
});

/** A file's picture, reduced to a long side, with even sides. */
export async function readRgb(file: string | Buffer, side = Infinity): Promise<Rgb> {
  const image = sharp(file).removeAlpha().toColourspace('srgb');
  const { width, height } = await image.metadata();
  const scale = Math.min(1, side / Math.max(width, height));
  const even = (v: number): number => 4 * Math.floor((v * scale) / 4);
  const resized = image.resize(even(width), even(height), { fit: 'fill', kernel: 'lanczos3' });
  const { data, info } = await resized.raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

export const sharpOf = ({ width, height, data }: Rgb): Sharp => sharp(data, { raw: { width, height, channels: 3 } });

/** Half the size: each pixel the mean of four. */
export function halved({ width, height, data }: Rgb): Rgb {
  const w = width >> 1,
    h = height >> 1;
  const out = new Uint8Array(3 * w * h);
  for (let i = 0; i < out.length; i++) {
    const x = Math.floor(i / 3) % w,
      y = Math.floor(i / 3 / w),
      at = 3 * (2 * y * width + 2 * x) + (i % 3);
    out[i] = Math.round((data[at] + data[at + 3] + data[at + 3 * width] + data[at + 3 * width + 3]) / 4);
  }
  return { width: w, height: h, data: out };
}

/** Grey grain, the same in all three colours. */
export function grainyRgb(picture: Rgb, sigma: number, size: number, seed: number): Rgb {
  const noise = noiseField(picture.width, picture.height, size, new Random(seed));
  return { ...picture, data: picture.data.map((v, i) => Math.min(255, Math.max(0, Math.round(v + sigma * noise[Math.floor(i / 3)])))) };
}

export async function blurredRgb(picture: Rgb, sigma: number): Promise<Rgb> {
  const data = await sharpOf(picture).blur(sigma).raw().toBuffer();
  return { ...picture, data: new Uint8Array(data) };
}
