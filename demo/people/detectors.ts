/**
 * Two face detectors the made-up faces are judged by, both trained by others on photographs: a full-range one that finds faces
 * of any size in a picture, and one that also gives a descriptor, near for pictures of one person and far for two.
 */
import { createRequire } from 'node:module';
import path from 'node:path';
import { liteModel } from '../../src/core';

/** Packed 8-bit RGB. */
export interface Rgb {
  data: Uint8Array;
  width: number;
  height: number;
}

export interface Face {
  /** Pixels of the picture. */
  x: number;
  y: number;
  width: number;
  height: number;
  score: number;
}

const require = createRequire(import.meta.url);

/** A picture as the full-range detector takes it. */
const SIDE = 192;
const CELLS = 48;
const SEEN = 0.5;

/** The full-range detector; the picture is fitted into a square, so faces should be no smaller than a twentieth of its side. */
export async function fullRangeDetector(): Promise<(picture: Rgb) => Promise<Face[]>> {
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

/** Means over the pixels of each of the square's, from -1 to 1, black where the picture does not reach. */
function fitted({ data, width, height }: Rgb, scale: number): Float32Array {
  const out = new Float32Array(SIDE * SIDE * 3).fill(-1);
  const last = (v: number, from: number, end: number): number => Math.min(end, Math.max(from + 1, Math.floor(v)));
  for (let y = 0; y * scale < height && y < SIDE; y++) {
    const y0 = Math.floor(y * scale),
      y1 = last((y + 1) * scale, y0, height);
    for (let x = 0; x * scale < width && x < SIDE; x++) {
      const x0 = Math.floor(x * scale),
        x1 = last((x + 1) * scale, x0, width);
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        for (let v = y0; v < y1; v++) for (let u = x0; u < x1; u++) sum += data[(v * width + u) * 3 + c];
        out[(y * SIDE + x) * 3 + c] = sum / ((y1 - y0) * (x1 - x0)) / 127.5 - 1;
      }
    }
  }
  return out;
}

/** Of faces that overlap by a third, the surest. */
function separate(faces: Face[]): Face[] {
  const kept: Face[] = [];
  for (const face of faces.sort((a, b) => b.score - a.score)) if (kept.every((k) => shared(k, face) < 1 / 3)) kept.push(face);
  return kept;
}

/** Shared area over joint area. */
function shared(a: Face, b: Face): number {
  const w = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x),
    h = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  const both = Math.max(0, w) * Math.max(0, h);
  return both / (a.width * a.height + b.width * b.height - both);
}

interface FaceApi {
  tf: {
    setBackend(name: string): Promise<boolean>;
    ready(): Promise<void>;
    tensor3d(data: Uint8Array, shape: [number, number, number], kind: 'int32'): { dispose(): void };
  };
  nets: Record<'ssdMobilenetv1' | 'faceLandmark68Net' | 'faceRecognitionNet', { loadFromDisk(folder: string): Promise<void> }>;
  SsdMobilenetv1Options: new (options: { minConfidence: number }) => object;
  detectAllFaces(
    input: object,
    options: object,
  ): { withFaceLandmarks(): { withFaceDescriptors(): Promise<{ detection: { box: Face; score: number }; descriptor: Float32Array }[]> } };
}

/** The detector that describes each face by 128 numbers: Euclidean distances under about 0.5 mean one person. */
export async function describingDetector(): Promise<(picture: Rgb) => Promise<(Face & { descriptor: Float32Array })[]>> {
  const wasm = require('@tensorflow/tfjs-backend-wasm') as { setWasmPaths(folder: string): void };
  wasm.setWasmPaths(path.dirname(require.resolve('@tensorflow/tfjs-backend-wasm')) + '/');
  const api = require('@vladmandic/face-api/dist/face-api.node-wasm.js') as FaceApi;
  await api.tf.setBackend('wasm');
  await api.tf.ready();
  const folder = path.join(path.dirname(require.resolve('@vladmandic/face-api/package.json')), 'model');
  for (const net of ['ssdMobilenetv1', 'faceLandmark68Net', 'faceRecognitionNet'] as const) await api.nets[net].loadFromDisk(folder);
  return async ({ data, width, height }) => {
    const input = api.tf.tensor3d(data, [height, width, 3], 'int32');
    const found = await api
      .detectAllFaces(input, new api.SsdMobilenetv1Options({ minConfidence: 0.5 }))
      .withFaceLandmarks()
      .withFaceDescriptors();
    input.dispose();
    return found.map(({ detection: { box, score }, descriptor }) => {
      const { x, y, width: w, height: h } = box;
      return { x, y, width: w, height: h, score, descriptor };
    });
  };
}
