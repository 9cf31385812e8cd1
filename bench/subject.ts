import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { fromRgb } from '../src/core/picture/matrix';
import { type Picture, wholeRegion } from '../src/core/picture/picture';
import { findSubject } from '../src/core/subject/find';
import { subjectMask } from '../src/core/subject/subject';
import { streamInfo } from '../src/core/testing/pictures';
import type { Rgb } from '../src/core/vision/rgb';
import type { Row } from './table';

const DEMO = path.resolve(import.meta.dirname, '../demo');
/** Pixels an edge may lie off its true place. */
const NEAR = 2;

export async function pictureOf(file: string): Promise<Picture> {
  const { data, info } = await sharp(file).removeAlpha().toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  return pictureOfBytes({ data: new Uint8Array(data), width: info.width, height: info.height }, info.channels === 1 ? 1 : 3);
}

/** A picture of bytes in sRGB. */
export function pictureOfBytes({ data, width, height }: Rgb, channels: 1 | 3 = 3): Picture {
  const stream = streamInfo({
    ...{ width, height, frames: 1, chromaShiftX: 0, chromaShiftY: 0, depth: 8 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });
  return fromRgb(data, channels, stream);
}

/** Share of what is in either mask that is in both. */
function overlap(a: Uint8Array, b: Uint8Array): number {
  let both = 0,
    either = 0;
  for (let i = 0; i < a.length; i++) {
    both += a[i] & b[i];
    either += a[i] | b[i];
  }
  return either ? both / either : 1;
}

/** Places of a mask's edge, beside the frame's own. */
function edgeOf(mask: Uint8Array, width: number, height: number): Uint8Array {
  const edge = new Uint8Array(mask.length);
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      if (mask[i] && !(mask[i - 1] && mask[i + 1] && mask[i - width] && mask[i + width])) edge[i] = 1;
    }
  return edge;
}

/** Share of a mask's edge that lies near the true one. */
function edgeNear(mask: Uint8Array, truth: Uint8Array, width: number, height: number): number {
  const own = edgeOf(mask, width, height),
    true_ = edgeOf(truth, width, height);
  let near = 0,
    all = 0;
  own.forEach((on, i) => {
    if (!on) return;
    all++;
    const x = i % width,
      y = Math.floor(i / width);
    for (let v = Math.max(0, y - NEAR); v <= Math.min(height - 1, y + NEAR); v++)
      for (let u = Math.max(0, x - NEAR); u <= Math.min(width - 1, x + NEAR); u++)
        if (true_[v * width + u]) {
          near++;
          return;
        }
  });
  return all ? near / all : 0;
}

/** The people of the demo's plates found, against where they are by the scenes' own truth. */
export async function subjectsFound(): Promise<Row[]> {
  const folder = path.join(DEMO, 'truth/people');
  if (!existsSync(folder)) throw new Error(`${folder} is missing`);
  const figures: { name: string; overlap: number; near: number }[] = [];
  for (const file of readdirSync(folder).sort()) {
    const picture = await pictureOf(path.join(DEMO, 'plates', file));
    const { width, height } = picture.info;
    const truth = await sharp(path.join(folder, file)).toColourspace('b-w').raw().toBuffer();
    const found = subjectMask(await findSubject(picture), picture, wholeRegion(picture.info));
    const [mask, right] = [Uint8Array.from(found, (v) => Number(v >= 0.5)), Uint8Array.from(truth, (v) => Number(v >= 128))];
    figures.push({ name: path.parse(file).name, overlap: overlap(mask, right), near: edgeNear(mask, right, width, height) });
  }
  const mean = (key: 'overlap' | 'near'): number => figures.reduce((sum, f) => sum + f[key], 0) / figures.length;
  const worst = (key: 'overlap' | 'near'): { name: string; overlap: number; near: number } =>
    [...figures].sort((a, b) => a[key] - b[key])[0];
  const group = 'Subjects found (the demo’s people, by the scenes’ truth)';
  return [
    { group, what: 'intersection over union, mean', shown: mean('overlap').toFixed(3), value: mean('overlap'), atLeast: 0.93 },
    { group, what: `intersection over union, worst (${worst('overlap').name})`, shown: worst('overlap').overlap.toFixed(3) },
    { group, what: 'edge within 2 px, mean', shown: `${(100 * mean('near')).toFixed(1)} %`, value: mean('near'), atLeast: 0.9 },
    { group, what: `edge within 2 px, worst (${worst('near').name})`, shown: `${(100 * worst('near').near).toFixed(1)} %` },
  ];
}
