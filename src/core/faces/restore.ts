import { network } from '../networks/model';

/** A face laid straight: luma and two chroma planes of `side` squared, 0 to 1, chroma round a half. */
export interface FramedFace {
  side: number;
  planes: [Float32Array, Float32Array, Float32Array];
}

/** What is known of a framed face. */
export interface FaceWork {
  /** Pixels of the frame for one of the source. */
  ratio: number;
  /** How far the result, reduced to the source's pixels, may lie off what was there, 0 to 1: the source's noise. */
  bound: number;
  /** Nothing finer than the source's pixels is added. */
  onlySupported: boolean;
}

/** Side of the frame that stands for 0 in the network's plane of sizes, as in `training/faceSamples.py`. */
const SIZE_OF_FRAME = 96;
/** Planes the network reads: twelve of the picture, four that tell where it looks and how large. */
const PICTURE = 12,
  CHANNELS = 16;
/** Deviation of the Gaussian that stands for a reduction by one, in pixels. */
const REDUCED = 0.55;
/** Sides of frames that are worked: multiples of 8. */
export const FRAME_SIDES = { least: 48, most: 320 };

/**
 * What a face is to be changed by: the network's correction, of which what the source's pixels can say is held within their noise.
 * @returns planes to be added, as the face's.
 * @throws NetworkError when the network cannot be used.
 */
export async function faceCorrection(face: FramedFace, work: FaceWork): Promise<FramedFace> {
  const { side, planes } = face;
  const net = await network('faces');
  const half = side / 2;
  const input = new Float32Array(CHANNELS * half * half);
  planes.forEach((plane, index) => foldInto(plane, side, input, 4 * index * half * half));
  const at = PICTURE * half * half;
  for (let y = 0; y < half; y++)
    for (let x = 0; x < half; x++) {
      const i = at + y * half + x;
      input[i] = (2 * (2 * x + 1)) / side - 1;
      input[i + half * half] = (2 * (2 * y + 1)) / side - 1;
    }
  input.fill(Math.log2(side / SIZE_OF_FRAME), at + 2 * half * half, at + 3 * half * half);
  input.fill(Math.log2(Math.min(4, Math.max(1, work.ratio))), at + 3 * half * half);
  const answer = await net.run(input, CHANNELS, half, half);
  const made = planes.map((_, index) => unfolded(answer, 4 * index * half * half, side)) as FramedFace['planes'];
  return { side, planes: made.map((plane) => held(plane, side, work)) as FramedFace['planes'] };
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

/** Times that what is too much is taken off: what is left of it is smoothed away in between. */
const HOLDS = 8;

/** A correction whose part that the source's pixels can say stays within their noise (projections onto it, again and again). */
function held(correction: Float32Array, side: number, { ratio, bound, onlySupported }: FaceWork): Float32Array {
  const sigma = REDUCED * Math.max(1, ratio);
  let out = onlySupported ? smoothed(correction, side, sigma) : correction;
  for (let n = 0; n < HOLDS; n++) {
    const supported = smoothed(out, side, sigma);
    let over = false;
    const excess = supported.map((v) => {
      const by = v - Math.min(bound, Math.max(-bound, v));
      over ||= by !== 0;
      return by;
    });
    if (!over) return out;
    out = out.map((v, i) => v - STEP * excess[i]);
  }
  return out;
}

/** How much of what is too much is taken off at once: smoothing makes less of it than it is. */
const STEP = 1.6;

/** A Gaussian over a square, its borders repeated. */
export function smoothed(plane: Float32Array, side: number, sigma: number): Float32Array {
  const reach = Math.ceil(3 * sigma);
  const taps = Float32Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-0.5 * ((i - reach) / sigma) ** 2));
  const sum = taps.reduce((a, b) => a + b, 0);
  const line = new Float32Array(side + 2 * reach);
  const out = new Float32Array(plane.length),
    between = new Float32Array(plane.length);
  // Rows first, written as columns, and then those.
  const pass = (from: Float32Array, to: Float32Array): void => {
    for (let y = 0; y < side; y++) {
      const row = y * side;
      line.fill(from[row], 0, reach);
      line.set(from.subarray(row, row + side), reach);
      line.fill(from[row + side - 1], reach + side);
      for (let x = 0; x < side; x++) {
        let value = 0;
        for (let k = 0; k < taps.length; k++) value += taps[k] * line[x + k];
        to[x * side + y] = value / sum;
      }
    }
  };
  pass(plane, between);
  pass(between, out);
  return out;
}
