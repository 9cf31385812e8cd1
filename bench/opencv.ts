import opencv from '@techstark/opencv-js';
import type { Hole } from '../src/core/fill/hole';

/** What of OpenCV is used here. */
interface Mat {
  data: Uint8Array;
  data32S: Int32Array;
  delete(): void;
}
interface OpenCv {
  Mat: new () => Mat;
  CV_8UC1: number;
  CV_8UC3: number;
  CV_32S: number;
  INPAINT_TELEA: number;
  INPAINT_NS: number;
  matFromArray(rows: number, columns: number, type: number, values: ArrayLike<number>): Mat;
  inpaint(source: Mat, mask: Mat, result: Mat, radius: number, method: number): void;
  connectedComponents(image: Mat, labels: Mat, connectivity: number, type: number): number;
  onRuntimeInitialized?: () => void;
}

const cv = opencv as unknown as OpenCv;
const ready = new Promise<void>((resolve) => (cv.Mat ? resolve() : (cv.onRuntimeInitialized = resolve)))
  // It prints all of itself when anything else fails.
  .then(() => void process.removeAllListeners('uncaughtException').removeAllListeners('unhandledRejection'));

/** Pixels that its ways to fill look at round each missing one. */
const RADIUS = 5;

/** A hole as OpenCV fills it, by name: Telea (2004), and Navier-Stokes (Bertalmio et al., 2001). Eight bits of luma, or of all planes. */
export async function inpainted({ width, height, planes, missing }: Hole): Promise<Record<'Telea' | 'Navier-Stokes', Uint16Array[]>> {
  await ready;
  const channels = planes.length === 3 ? 3 : 1;
  const type = channels === 3 ? cv.CV_8UC3 : cv.CV_8UC1;
  const bytes = new Uint8Array(channels * width * height);
  for (let i = 0; i < width * height; i++) for (let c = 0; c < channels; c++) bytes[channels * i + c] = planes[c][i] >> 8;
  const source = cv.matFromArray(height, width, type, bytes),
    mask = cv.matFromArray(height, width, cv.CV_8UC1, missing),
    result = new cv.Mat();
  const by = (method: number): Uint16Array[] => {
    cv.inpaint(source, mask, result, RADIUS, method);
    return Array.from({ length: channels }, (_, c) =>
      Uint16Array.from({ length: width * height }, (__, i) => result.data[channels * i + c] << 8),
    );
  };
  const made = { Telea: by(cv.INPAINT_TELEA), 'Navier-Stokes': by(cv.INPAINT_NS) };
  for (const mat of [source, mask, result]) mat.delete();
  return made;
}

/** Places of each piece of a mask that hangs together, over corners too. */
export async function piecesOfMask(mask: Uint8Array, width: number, height: number): Promise<number[][]> {
  await ready;
  const image = cv.matFromArray(height, width, cv.CV_8UC1, mask),
    labels = new cv.Mat();
  const pieces = Array.from({ length: cv.connectedComponents(image, labels, 8, cv.CV_32S) - 1 }, (): number[] => []);
  labels.data32S.forEach((label, i) => label > 0 && pieces[label - 1].push(i));
  for (const mat of [image, labels]) mat.delete();
  return pieces;
}
