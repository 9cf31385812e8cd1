/** What prints are made up with: parts, borders and toners. */
import sharp from 'sharp';
import { ground } from './carriers';
import { blank, bytesOf, type Raster } from './raster';

export type Rgb = [number, number, number];

/** A scan, and the same without its damage. */
export interface Made {
  picture: Raster;
  truth: Raster;
}

export const copy = (p: Raster): Raster => ({ ...p, data: p.data.slice() });

/** The part of a picture, in its pixels. */
export function crop(p: Raster, left: number, top: number, width: number, height: number): Raster {
  const out = blank(width, height);
  for (let y = 0; y < height; y++) {
    const from = ((top + y) * p.width + left) * 4;
    out.data.set(p.data.subarray(from, from + width * 4), y * width * 4);
  }
  return out;
}

/** Of another width. */
export async function resized(p: Raster, width: number): Promise<Raster> {
  const raw = { width: p.width, height: p.height, channels: 3 as const };
  const { data, info } = await sharp(bytesOf(p), { raw }).resize(width).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: Float32Array.from(data) };
}

/** With a border of one colour all round. */
export function framed(p: Raster, border: number, colour: Rgb): Raster {
  const out = ground(p.width + 2 * border, p.height + 2 * border, 3, colour, 0.008, [1, 1]);
  for (let y = 0; y < p.height; y++)
    out.data.set(p.data.subarray(y * p.width * 4, (y + 1) * p.width * 4), ((y + border) * out.width + border) * 4);
  return out;
}

export const SEPIA: [Rgb, Rgb, Rgb] = [
  [44, 30, 20],
  [148, 114, 80],
  [236, 219, 188],
];
export const SILVER: [Rgb, Rgb, Rgb] = [
  [22, 21, 20],
  [122, 120, 115],
  [236, 232, 222],
];
