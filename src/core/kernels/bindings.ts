// Written by scripts/build-kernels.mjs from src/core/kernels/assembly; not by hand.

/** The compiled kernels; arguments are addresses in their memory, sizes in samples, and figures. */
export interface KernelExports {
  narrowCodes(src: number, count: number, depth: number, full: boolean | 0 | 1, dst: number): void;
  widenBytes(src: number, count: number, full: boolean | 0 | 1, dst: number): void;
  widenWords(src: number, count: number, depth: number, full: boolean | 0 | 1, dst: number): void;
  bytesFromPlane(src: number, width: number, lines: number, first: number, step: number, dst: number): void;
  halveBytes(src: number, width: number, height: number, dst: number): void;
  motionLevel(current: number, before: number, after: number, width: number, height: number, blockWidth: number, blockHeight: number, columns: number, rows: number, parents: number, parentColumns: number, parentRows: number, parentShift: number, reachX: number, reachY: number, penalty: number, vectors: number): void;
  moveBlocks(src: number, width: number, height: number, vectors: number, columns: number, rows: number, blockWidth: number, blockHeight: number, shiftX: number, shiftY: number, dst: number): void;
  foldPlane(src: number, width: number, height: number, fromX: number, fromY: number, x: number, y: number, w: number, h: number, shiftX: number, shiftY: number, scale: number, out: number): void;
  foldLines(src: number, width: number, height: number, x: number, y: number, w: number, lines: number, upsideDown: boolean | 0 | 1, scale: number, out: number): void;
  takePlane(src: number, width: number, height: number, x: number, y: number, w: number, h: number, scale: number, out: number): void;
  addFolded(folded: number, w: number, h: number, x: number, y: number, factor: number, plane: number, width: number, fromX: number, fromY: number, left: number, right: number, bottom: number, shiftX: number, shiftY: number): void;
  addLines(folded: number, w: number, lines: number, upsideDown: boolean | 0 | 1, x: number, y: number, factor: number, plane: number, width: number, left: number, right: number, bottom: number): void;
  addPlain(from: number, stride: number, factor: number, plane: number, width: number, w: number, h: number): void;
  addUnfolded(folded: number, folds: number, w: number, size: number, x: number, y: number, factor: number, data: number, width: number, height: number): void;
  padField(src: number, width: number, lines: number, first: number, dst: number): void;
  deinterlaceFrame(f0: number, f1: number, f2: number, f3: number, f4: number, f5: number, frame: number, width: number, height: number, parity: number, vectors: number, columns: number, rows: number, blockWidth: number, blockHeight: number, bytes0: number, bytes1: number, out0: number, out1: number): void;
  padPlane(src: number, width: number, height: number, margin: number, dst: number): void;
  shrinkPlane(planes: number, vectors: number, others: number, width: number, height: number, margin: number, step: number, columns: number, rows: number, blockWidth: number, blockHeight: number, sigma: number, levels: number, spectrum: number, trust: number, threshold: number, keep: number, original: number, bell: number, sums: number, strips: number, scratch: number, out: number): void;
  blockDifferences(a: number, b: number, width: number, height: number, blockWidth: number, blockHeight: number, columns: number, rows: number, out: number): void;
  averageBlocks(planes: number, count: number, masks: number, width: number, height: number, blockWidth: number, blockHeight: number, columns: number, rows: number, out: number): void;
  toFloat(src: number, count: number, table: number, dst: number): void;
  fromFloat(src: number, count: number, table: number, entries: number, dst: number): void;
  plainToFloat(src: number, count: number, dst: number): void;
  plainFromFloat(src: number, count: number, dst: number): void;
  resampleRows(src: number, width: number, height: number, starts: number, weights: number, taps: number, outHeight: number, dst: number): void;
  resampleColumns(src: number, width: number, height: number, starts: number, weights: number, taps: number, outWidth: number, pad: number, line: number, dst: number): void;
  limitRinging(src: number, width: number, height: number, columns: number, rows: number, outWidth: number, outHeight: number, slack: number, lines: number, data: number): void;
  addScaled(data: number, other: number, gain: number, count: number): void;
  subtract(a: number, b: number, count: number, dst: number): void;
  holdRange(src: number, width: number, height: number, slack: number, data: number): void;
  smoothAlongEdges(src: number, stride: number, width: number, height: number, strength: number, floor: number, tensor: number, data: number): void;
  padFloats(src: number, width: number, height: number, border: number, stride: number, dst: number): void;
  whiteNoise(x0: number, y0: number, width: number, height: number, seed: number, dst: number): void;
  addNoise(plane: number, width: number, height: number, noise: number, noiseStride: number, amplitudes: number): void;
  mixLuma(luma: number, width: number, height: number, cb: number, cr: number, chromaWidth: number, shiftX: number, shiftY: number, fromCb: number, fromCr: number): void;
  mixChroma(cb: number, cr: number, count: number, bb: number, br: number, rb: number, rr: number): void;
  toScreen(luma: number, width: number, height: number, cb: number, cr: number, chromaWidth: number, chromaHeight: number, shiftX: number, shiftY: number, black: number, gain: number, rr: number, gb: number, gr: number, bb: number, lines: number, out: number): void;
}
