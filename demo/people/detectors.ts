/**
 * Two face detectors the made-up faces are judged by, both trained by others on photographs: a full-range one that finds faces
 * of any size in a picture, and one that also gives a descriptor, near for pictures of one person and far for two.
 */
import { createRequire } from 'node:module';
import path from 'node:path';
import type { Rgb, SeenFace as Face } from '../../src/core';

export { fullRangeDetector, viewOf, type Rgb } from '../../src/core';

const require = createRequire(import.meta.url);

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
