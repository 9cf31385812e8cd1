import { network } from '../networks/model';
import type { FacePlanes, FramedFace, FaceWork } from './restore';

/** Side of the frame that stands for 0 in the networks' plane of sizes, as in `training/faceSamples.py`. */
const SIZE_OF_FRAME = 96;
/** Planes the networks read: twelve of the picture, four that tell where they look and how large, two of what the source suffered, four of a reference. */
const PICTURE = 12,
  TOLD = 6,
  REFERENCE = 4;
/** Noise and quantiser step that count as 1, and the most that is told of the latter (`training/samples.py`). */
const NOISE_UNIT = 32,
  STEP_UNIT = 64,
  MOST_STEP = 1.5;
/** How much nearer the truth a reference must say it is to count so many times as much: the power of how far off each may be. */
const TRUST = 2;
/** Logarithms of doubt beyond which more means nothing. */
const DOUBT = { least: -3, most: 5 };

/** What the network of faces would change in a face. @throws NetworkError when it cannot be used. */
export async function correctedAlone(face: FramedFace, work: FaceWork): Promise<FacePlanes> {
  const net = await network('faces');
  const half = face.side / 2;
  const answer = await net.run(told(face, work, PICTURE + TOLD), PICTURE + TOLD, half, half);
  return [0, 1, 2].map((index) => unfolded(answer, 4 * index * half * half, face.side)) as FacePlanes;
}

/**
 * What a network would change in a face by what other pictures of the person show: each says what it would make of it and how far that may be off, place
 * by place, and the nearer it thinks itself the more it counts.
 *
 * @param references luma of each, laid on the face and in its light.
 * @throws NetworkError when the network cannot be used.
 */
export async function correctedBy(face: FramedFace, work: FaceWork, references: readonly Float32Array[]): Promise<FacePlanes> {
  const net = await network('reference');
  const { side } = face,
    half = side / 2,
    channels = PICTURE + TOLD + REFERENCE;
  const input = told(face, work, channels);
  const sums = [0, 1, 2].map(() => new Float32Array(side * side)) as FacePlanes;
  const weights = new Float32Array(side * side);
  for (const reference of references) {
    foldInto(reference, side, input, (PICTURE + TOLD) * half * half);
    // The runtime may keep what it is given.
    const answer = await net.run(input.slice(), channels, half, half);
    const doubt = unfolded(answer, PICTURE * half * half, side);
    const weight = doubt.map((v) => Math.exp(-TRUST * Math.min(DOUBT.most, Math.max(DOUBT.least, v))));
    sums.forEach((sum, index) => {
      const change = unfolded(answer, 4 * index * half * half, side);
      for (let i = 0; i < sum.length; i++) sum[i] += weight[i] * change[i];
    });
    for (let i = 0; i < weights.length; i++) weights[i] += weight[i];
  }
  return sums.map((sum) => sum.map((v, i) => v / weights[i])) as FacePlanes;
}

/** The face, and what is known of it, as the networks read them. */
function told({ side, planes }: FramedFace, work: FaceWork, channels: number): Float32Array {
  const half = side / 2,
    size = half * half;
  const input = new Float32Array(channels * size);
  planes.forEach((plane, index) => foldInto(plane, side, input, 4 * index * size));
  const at = PICTURE * size;
  for (let y = 0; y < half; y++)
    for (let x = 0; x < half; x++) {
      const i = at + y * half + x;
      input[i] = (2 * (2 * x + 1)) / side - 1;
      input[i + size] = (2 * (2 * y + 1)) / side - 1;
    }
  const figures = [
    Math.log2(side / SIZE_OF_FRAME),
    Math.log2(Math.min(4, Math.max(1, work.ratio))),
    work.noise / NOISE_UNIT,
    Math.min(MOST_STEP, work.coding / STEP_UNIT),
  ];
  figures.forEach((v, n) => input.fill(v, at + (2 + n) * size, at + (3 + n) * size));
  return input;
}

/** Four planes of half the size: samples of even and odd rows and columns. */
function foldInto(plane: Float32Array, side: number, out: Float32Array, at: number): void {
  const half = side / 2;
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) out[at + ((y & 1) * 2 + (x & 1)) * half * half + (y >> 1) * half + (x >> 1)] = plane[y * side + x];
}

function unfolded(planes: Float32Array, at: number, side: number): Float32Array {
  const half = side / 2;
  const out = new Float32Array(side * side);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) out[y * side + x] = planes[at + ((y & 1) * 2 + (x & 1)) * half * half + (y >> 1) * half + (x >> 1)];
  return out;
}
