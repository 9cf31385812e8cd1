import { liteModel } from '../vision/liteRt';
import { copied, type RgbView } from '../vision/view';
import type { Box } from './frame';
import { sampledRgb } from './sampled';

/** A face, in pixels of the picture it was found in, and how sure it is, 0 to 1. */
export interface Face {
  x: number;
  y: number;
  width: number;
  height: number;
  score: number;
}

/** A picture as the full-range detector takes it. */
const SIDE = 192;
const CELLS = 48;
const SEEN = 0.5;

/**
 * A detector of faces that others trained on photographs (face_detection_full_range of the package @mediapipe/face_detection, Apache-2.0). The picture is
 * fitted into a square, so faces should be no smaller than a twentieth of its side.
 */
export async function fullRangeDetector(): Promise<(picture: RgbView) => Promise<Face[]>> {
  const model = await liteModel('@mediapipe/face_detection', 'face_detection_full_range.tflite');
  return async (picture) => {
    const scale = Math.max(picture.width, picture.height) / SIDE;
    const outputs = await model.run(fitted(picture, scale), [1, SIDE, SIDE, 3]);
    const [boxes, logits] = outputs.sort((a, b) => b.length - a.length);
    const faces: Face[] = [];
    for (let i = 0; i < CELLS * CELLS; i++) {
      const score = 1 / (1 + Math.exp(-logits[i]));
      if (score < SEEN) continue;
      const cx = ((i % CELLS) + 0.5) * 4 + boxes[16 * i],
        cy = (Math.floor(i / CELLS) + 0.5) * 4 + boxes[16 * i + 1],
        w = boxes[16 * i + 2],
        h = boxes[16 * i + 3];
      faces.push({ x: (cx - w / 2) * scale, y: (cy - h / 2) * scale, width: w * scale, height: h * scale, score });
    }
    return separate(faces);
  };
}

/** Means over the pixels of each of the square's, or between them where the picture is smaller, from -1 to 1, black where it does not reach. */
function fitted(picture: RgbView, scale: number): Float32Array {
  const { data, width, height, first, right, down } = picture;
  const out = new Float32Array(SIDE * SIDE * 3).fill(-1);
  if (scale < 1) {
    const rgb = sampledRgb(copied(picture), { a: scale, b: 0, x: 0, y: 0 }, SIDE);
    for (let y = 0; y < SIDE && y * scale < height; y++)
      for (let x = 0; x < SIDE && x * scale < width; x++)
        for (let i = 3 * (y * SIDE + x), c = 0; c < 3; c++) out[i + c] = rgb[i + c] / 127.5 - 1;
    return out;
  }
  const last = (v: number, from: number, end: number): number => Math.min(end, Math.max(from + 1, Math.floor(v)));
  for (let y = 0; y * scale < height && y < SIDE; y++) {
    const y0 = Math.floor(y * scale),
      y1 = last((y + 1) * scale, y0, height);
    for (let x = 0; x * scale < width && x < SIDE; x++) {
      const x0 = Math.floor(x * scale),
        x1 = last((x + 1) * scale, x0, width);
      let r = 0,
        g = 0,
        b = 0;
      for (let v = y0; v < y1; v++)
        for (let u = x0, at = first + v * down + x0 * right; u < x1; u++, at += right) {
          r += data[at];
          g += data[at + 1];
          b += data[at + 2];
        }
      const i = 3 * (y * SIDE + x),
        count = (y1 - y0) * (x1 - x0);
      out[i] = r / count / 127.5 - 1;
      out[i + 1] = g / count / 127.5 - 1;
      out[i + 2] = b / count / 127.5 - 1;
    }
  }
  return out;
}

/** Of faces that overlap by a third, the surest. */
export function separate<F extends Face>(faces: F[]): F[] {
  const kept: F[] = [];
  for (const face of faces.sort((a, b) => b.score - a.score)) if (apartFrom(kept, face)) kept.push(face);
  return kept;
}

/** Whether a face overlaps none of others by a third. */
export const apartFrom = (others: Face[], face: Face): boolean => others.every((other) => shared(other, face) < 1 / 3);

/** Shared area over joint area. */
export function shared(a: Box, b: Box): number {
  const w = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x),
    h = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  const both = Math.max(0, w) * Math.max(0, h);
  return both / (a.width * a.height + b.width * b.height - both);
}
