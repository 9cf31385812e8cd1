import { normalStream, randomStream } from '../../src/core';
import type { Raster } from './raster';

/** Film or sensor grain: luma noise with a little colour noise, softened to about `size` pixels. */
export function addGrain(picture: Raster, seed: number, luma: number, chroma: number, size = 0.5): void {
  const light = softNoise(picture.width, picture.height, seed, size),
    red = softNoise(picture.width, picture.height, seed + 1, size * 2),
    blue = softNoise(picture.width, picture.height, seed + 2, size * 2);
  for (let i = 0, o = 0; i < light.length; i++, o += 4) {
    const shade = picture.data[o + 1] / 255;
    const gain = 0.55 + 1.6 * shade * (1 - shade);
    const l = light[i] * luma * gain,
      r = red[i] * chroma,
      b = blue[i] * chroma;
    picture.data[o] += l + r;
    picture.data[o + 1] += l - 0.4 * (r + b);
    picture.data[o + 2] += l + b;
  }
}

/** Unit-deviation noise, blurred by repeated [w 1 w] averaging. */
function softNoise(width: number, height: number, seed: number, size: number): Float32Array {
  const normal = normalStream(seed);
  const noise = Float32Array.from({ length: width * height }, normal);
  if (size <= 0) return noise;
  const w = Math.min(1, size) * 0.5,
    gain = Math.sqrt(1 + 2 * w * w) / 1;
  const blurred = new Float32Array(noise.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      blurred[y * width + x] = (noise[y * width + x] + w * ((noise[y * width + x - 1] ?? 0) + (noise[y * width + x + 1] ?? 0))) / gain;
  for (let x = 0; x < width; x++)
    for (let y = 0; y < height; y++)
      noise[y * width + x] =
        (blurred[y * width + x] + w * ((blurred[(y - 1) * width + x] ?? 0) + (blurred[(y + 1) * width + x] ?? 0))) / gain;
  return noise;
}

/** Colour of a consumer tape: smeared along the line and late by a few pixels; lines that jitter; torn lines at the bottom. */
export function tapeFaults(picture: Raster, seed: number): void {
  const { width, height, data } = picture;
  const random = randomStream(seed);
  const line = new Float32Array(width * 4);
  for (let y = 0; y < height; y++) {
    line.set(data.subarray(y * width * 4, (y + 1) * width * 4));
    const torn = y > height - 9 ? (random() - 0.3) * 40 * ((y - height + 9) / 9) : 0;
    const jitter = Math.round((random() - 0.5) * 0.9 + torn);
    let cr = 0,
      cb = 0;
    for (let x = 0; x < width; x++) {
      const from = Math.max(0, Math.min(width - 1, x + jitter)) * 4,
        late = Math.max(0, Math.min(width - 1, x - 3 + jitter)) * 4;
      const l = luma(line, from),
        old = luma(line, late);
      cr += (line[late] - old - cr) * 0.28;
      cb += (line[late + 2] - old - cb) * 0.28;
      const o = (y * width + x) * 4;
      data[o] = l + cr * 0.9 + 3;
      data[o + 2] = l + cb * 0.9 + 6;
      data[o + 1] = l - ((0.299 * cr + 0.114 * cb) * 0.9) / 0.587;
    }
  }
}

export const luma = (d: Float32Array, i: number): number => 0.299 * d[i] + 0.587 * d[i + 1] + 0.114 * d[i + 2];

/** A worn film print without colour: flicker, dust of either sign, standing scratches that wander. */
export function filmFaults(picture: Raster, seed: number, frame: number): void {
  const { width, height, data } = picture;
  const random = randomStream(seed * 7919 + frame);
  const flicker = 1 + 0.05 * Math.sin(frame * 1.3) + (random() - 0.5) * 0.06;
  for (let i = 0; i < data.length; i += 4) {
    const x = (i / 4) % width,
      y = Math.floor(i / 4 / width);
    const edge = ((x / width - 0.5) ** 2 + (y / height - 0.5) ** 2) * 0.5;
    const l = luma(data, i) * flicker * (1 - edge) * 0.92 + 10;
    data[i] = data[i + 1] = data[i + 2] = l;
  }
  for (let k = 0; k < 5; k++) blot(picture, random, random() < 0.7 ? 235 : 12);
  for (let k = 0; k < 2; k++) {
    const x = Math.round(width * (0.3 + 0.36 * k) + 3 * Math.sin(frame * 0.2 + k * 2));
    for (let y = 0; y < height; y++)
      for (let c = 0; c < 3; c++) data[(y * width + x) * 4 + c] += 55 * (0.6 + 0.4 * Math.sin(y * 0.01 + frame));
  }
}

/** A speck of a few pixels. */
function blot(picture: Raster, random: () => number, value: number): void {
  const { width, height, data } = picture;
  const cx = random() * width,
    cy = random() * height,
    r = 1.5 + random() * 4,
    turn = random() * 3,
    long = 1 + random() * 2;
  for (let y = Math.max(0, Math.floor(cy - 12)); y < Math.min(height, cy + 12); y++) {
    for (let x = Math.max(0, Math.floor(cx - 12)); x < Math.min(width, cx + 12); x++) {
      const dx = (x - cx) * Math.cos(turn) + (y - cy) * Math.sin(turn),
        dy = (y - cy) * Math.cos(turn) - (x - cx) * Math.sin(turn);
      const inside = Math.max(0, Math.min(1, r - Math.hypot(dx / long, dy)));
      for (let c = 0; c < 3; c++) data[(y * width + x) * 4 + c] += (value - data[(y * width + x) * 4 + c]) * inside * 0.9;
    }
  }
}

/** An old colour print on textured paper: faded to warm, a fold, scratches, dust. */
export function printFaults(picture: Raster, seed: number): void {
  const { width, height, data } = picture;
  const random = randomStream(seed);
  for (let i = 0; i < data.length; i += 4) {
    const x = (i / 4) % width,
      y = Math.floor(i / 4 / width);
    const l = luma(data, i);
    const paper = 3 * Math.sin(x * 1.1 + Math.sin(y * 0.8) * 2) * Math.sin(y * 1.05);
    data[i] = (0.6 * data[i] + 0.4 * l) * 0.72 + 58 + paper;
    data[i + 1] = (0.6 * data[i + 1] + 0.4 * l) * 0.68 + 44 + paper;
    data[i + 2] = (0.6 * data[i + 2] + 0.4 * l) * 0.6 + 36 + paper;
  }
  const fold = (x: number): number => height * 0.62 + (x / width - 0.5) * 26 + 2 * Math.sin(x * 0.05);
  for (let x = 0; x < width; x++) {
    for (let d = -4; d <= 4; d++) {
      const y = Math.round(fold(x)) + d;
      const depth = Math.exp((-d * d) / 3) * (0.5 + 0.5 * random());
      for (let c = 0; c < 3; c++) data[(y * width + x) * 4 + c] += (232 - data[(y * width + x) * 4 + c]) * depth * 0.8;
    }
  }
  for (let k = 0; k < 60; k++) blot(picture, random, random() < 0.75 ? 240 : 40);
  for (let k = 0; k < 4; k++) {
    let x = random() * width,
      y = random() * height;
    const turn = random() * Math.PI;
    for (let n = 0; n < 220; n++, x += Math.cos(turn), y += Math.sin(turn) + (random() - 0.5) * 0.4) {
      const px = Math.floor(x),
        py = Math.floor(y);
      if (px < 0 || py < 0 || px >= width || py >= height) break;
      for (let c = 0; c < 3; c++) data[(py * width + px) * 4 + c] = 236 - c * 6;
    }
  }
}
