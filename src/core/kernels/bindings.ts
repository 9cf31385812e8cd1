// Written by scripts/build-kernels.mjs from src/core/kernels/assembly; not by hand.

/** The compiled kernels as WebAssembly exports them. */
interface ExportedKernels {
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
  searchPatches(planes: number, count: number, width: number, height: number, trust: number, usable: number, targets: number, targetCount: number, rounds: number, seed: number, reach: number, matches: number, distances: number): void;
  votePatches(planes: number, count: number, width: number, height: number, targets: number, targetCount: number, matches: number, weights: number, wanted: number, sums: number): void;
  squareExtremes(src: number, width: number, height: number, radius: number, highest: boolean | 0 | 1, between: number, line: number, dst: number): void;
  spreadFirst(x: number, b: number, starts: number, to: number, widths: number, inverse: number, size: number): void;
  spreadSweep(x: number, b: number, starts: number, to: number, widths: number, inverse: number, size: number, backwards: boolean | 0 | 1): void;
  spreadProduct(x: number, starts: number, to: number, widths: number, pull: number, size: number, out: number): void;
  spreadGather(x: number, starts: number, to: number, widths: number, part: number, size: number, out: number): void;
  spreadScatter(from: number, part: number, answer: number, size: number): void;
  spreadDot(a: number, b: number, count: number, out: number): void;
  spreadLargest(a: number, count: number, out: number): void;
  spreadAdd(to: number, from: number, factor: number, count: number): void;
  spreadTurn(way: number, answer: number, factor: number, count: number): void;
  layRows(raster: number, rasterWidth: number, alike: number, least: number, light: number, lightWidth: number, lightHeight: number, across: number, down: number, columns: number, rows: number, width: number, height: number, figures: number, ownCb: number, ownCr: number, ownWidth: number, outCb: number, outCr: number): void;
  toneCodes(tables: number, count: number, codes: number, last: number, figures: number, out: number): void;
  toneRows(luma: number, cb: number, cr: number, stride: number, moved: number, direct: number, width: number, height: number, tables: number, codes: number, last: number, figures: number, uneven: boolean | 0 | 1, recolours: boolean | 0 | 1, outLuma: number, outCb: number, outCr: number): void;
  toneStops(luma: number, cb: number, cr: number, count: number, tables: number, figures: number, out: number): void;
  reduceArea(plane: number, width: number, height: number, line: number, outWidth: number, outHeight: number, out: number): void;
  planesOfRgb(from: number, wide: boolean | 0 | 1, count: number, matrix: number, luma: number, cb: number, cr: number): void;
  rgbOfPlanes(luma: number, cb: number, cr: number, count: number, figures: number, wide: boolean | 0 | 1, out: number): void;
}

export type MotionLevelArguments = { current: number; before: number; after: number; width: number; height: number; blockWidth: number; blockHeight: number; columns: number; rows: number; parents: number; parentColumns: number; parentRows: number; parentShift: number; reachX: number; reachY: number; penalty: number; vectors: number };
export type MoveBlocksArguments = { src: number; width: number; height: number; vectors: number; columns: number; rows: number; blockWidth: number; blockHeight: number; shiftX: number; shiftY: number; dst: number };
export type FoldPlaneArguments = { src: number; width: number; height: number; fromX: number; fromY: number; x: number; y: number; w: number; h: number; shiftX: number; shiftY: number; scale: number; out: number };
export type FoldLinesArguments = { src: number; width: number; height: number; x: number; y: number; w: number; lines: number; upsideDown: boolean | 0 | 1; scale: number; out: number };
export type TakePlaneArguments = { src: number; width: number; height: number; x: number; y: number; w: number; h: number; scale: number; out: number };
export type AddFoldedArguments = { folded: number; w: number; h: number; x: number; y: number; factor: number; plane: number; width: number; fromX: number; fromY: number; left: number; right: number; bottom: number; shiftX: number; shiftY: number };
export type AddLinesArguments = { folded: number; w: number; lines: number; upsideDown: boolean | 0 | 1; x: number; y: number; factor: number; plane: number; width: number; left: number; right: number; bottom: number };
export type AddPlainArguments = { from: number; stride: number; factor: number; plane: number; width: number; w: number; h: number };
export type AddUnfoldedArguments = { folded: number; folds: number; w: number; size: number; x: number; y: number; factor: number; data: number; width: number; height: number };
export type DeinterlaceFrameArguments = { f0: number; f1: number; f2: number; f3: number; f4: number; f5: number; frame: number; width: number; height: number; parity: number; vectors: number; columns: number; rows: number; blockWidth: number; blockHeight: number; bytes0: number; bytes1: number; out0: number; out1: number };
export type ShrinkPlaneArguments = { planes: number; vectors: number; others: number; width: number; height: number; margin: number; step: number; columns: number; rows: number; blockWidth: number; blockHeight: number; sigma: number; levels: number; spectrum: number; trust: number; threshold: number; keep: number; original: number; bell: number; sums: number; strips: number; scratch: number; out: number };
export type BlockDifferencesArguments = { a: number; b: number; width: number; height: number; blockWidth: number; blockHeight: number; columns: number; rows: number; out: number };
export type AverageBlocksArguments = { planes: number; count: number; masks: number; width: number; height: number; blockWidth: number; blockHeight: number; columns: number; rows: number; out: number };
export type ResampleRowsArguments = { src: number; width: number; height: number; starts: number; weights: number; taps: number; outHeight: number; dst: number };
export type ResampleColumnsArguments = { src: number; width: number; height: number; starts: number; weights: number; taps: number; outWidth: number; pad: number; line: number; dst: number };
export type LimitRingingArguments = { src: number; width: number; height: number; columns: number; rows: number; outWidth: number; outHeight: number; slack: number; lines: number; data: number };
export type SmoothAlongEdgesArguments = { src: number; stride: number; width: number; height: number; strength: number; floor: number; tensor: number; data: number };
export type MixLumaArguments = { luma: number; width: number; height: number; cb: number; cr: number; chromaWidth: number; shiftX: number; shiftY: number; fromCb: number; fromCr: number };
export type MixChromaArguments = { cb: number; cr: number; count: number; bb: number; br: number; rb: number; rr: number };
export type ToScreenArguments = { luma: number; width: number; height: number; cb: number; cr: number; chromaWidth: number; chromaHeight: number; shiftX: number; shiftY: number; black: number; gain: number; rr: number; gb: number; gr: number; bb: number; lines: number; out: number };
export type SearchPatchesArguments = { planes: number; count: number; width: number; height: number; trust: number; usable: number; targets: number; targetCount: number; rounds: number; seed: number; reach: number; matches: number; distances: number };
export type VotePatchesArguments = { planes: number; count: number; width: number; height: number; targets: number; targetCount: number; matches: number; weights: number; wanted: number; sums: number };
export type SquareExtremesArguments = { src: number; width: number; height: number; radius: number; highest: boolean | 0 | 1; between: number; line: number; dst: number };
export type SpreadFirstArguments = { x: number; b: number; starts: number; to: number; widths: number; inverse: number; size: number };
export type SpreadSweepArguments = { x: number; b: number; starts: number; to: number; widths: number; inverse: number; size: number; backwards: boolean | 0 | 1 };
export type SpreadProductArguments = { x: number; starts: number; to: number; widths: number; pull: number; size: number; out: number };
export type SpreadGatherArguments = { x: number; starts: number; to: number; widths: number; part: number; size: number; out: number };
export type LayRowsArguments = { raster: number; rasterWidth: number; alike: number; least: number; light: number; lightWidth: number; lightHeight: number; across: number; down: number; columns: number; rows: number; width: number; height: number; figures: number; ownCb: number; ownCr: number; ownWidth: number; outCb: number; outCr: number };
export type ToneRowsArguments = { luma: number; cb: number; cr: number; stride: number; moved: number; direct: number; width: number; height: number; tables: number; codes: number; last: number; figures: number; uneven: boolean | 0 | 1; recolours: boolean | 0 | 1; outLuma: number; outCb: number; outCr: number };
export type ToneStopsArguments = { luma: number; cb: number; cr: number; count: number; tables: number; figures: number; out: number };
export type ReduceAreaArguments = { plane: number; width: number; height: number; line: number; outWidth: number; outHeight: number; out: number };
export type PlanesOfRgbArguments = { from: number; wide: boolean | 0 | 1; count: number; matrix: number; luma: number; cb: number; cr: number };
export type RgbOfPlanesArguments = { luma: number; cb: number; cr: number; count: number; figures: number; wide: boolean | 0 | 1; out: number };

/**
 * The kernels as they are called: those of more than 6 arguments take them by name. Arguments are addresses in the kernels' memory, sizes in
 * samples, and figures.
 */
export interface Kernels {
  narrowCodes(src: number, count: number, depth: number, full: boolean | 0 | 1, dst: number): void;
  widenBytes(src: number, count: number, full: boolean | 0 | 1, dst: number): void;
  widenWords(src: number, count: number, depth: number, full: boolean | 0 | 1, dst: number): void;
  bytesFromPlane(src: number, width: number, lines: number, first: number, step: number, dst: number): void;
  halveBytes(src: number, width: number, height: number, dst: number): void;
  motionLevel(a: MotionLevelArguments): void;
  moveBlocks(a: MoveBlocksArguments): void;
  foldPlane(a: FoldPlaneArguments): void;
  foldLines(a: FoldLinesArguments): void;
  takePlane(a: TakePlaneArguments): void;
  addFolded(a: AddFoldedArguments): void;
  addLines(a: AddLinesArguments): void;
  addPlain(a: AddPlainArguments): void;
  addUnfolded(a: AddUnfoldedArguments): void;
  padField(src: number, width: number, lines: number, first: number, dst: number): void;
  deinterlaceFrame(a: DeinterlaceFrameArguments): void;
  padPlane(src: number, width: number, height: number, margin: number, dst: number): void;
  shrinkPlane(a: ShrinkPlaneArguments): void;
  blockDifferences(a: BlockDifferencesArguments): void;
  averageBlocks(a: AverageBlocksArguments): void;
  toFloat(src: number, count: number, table: number, dst: number): void;
  fromFloat(src: number, count: number, table: number, entries: number, dst: number): void;
  plainToFloat(src: number, count: number, dst: number): void;
  plainFromFloat(src: number, count: number, dst: number): void;
  resampleRows(a: ResampleRowsArguments): void;
  resampleColumns(a: ResampleColumnsArguments): void;
  limitRinging(a: LimitRingingArguments): void;
  addScaled(data: number, other: number, gain: number, count: number): void;
  subtract(a: number, b: number, count: number, dst: number): void;
  holdRange(src: number, width: number, height: number, slack: number, data: number): void;
  smoothAlongEdges(a: SmoothAlongEdgesArguments): void;
  padFloats(src: number, width: number, height: number, border: number, stride: number, dst: number): void;
  whiteNoise(x0: number, y0: number, width: number, height: number, seed: number, dst: number): void;
  addNoise(plane: number, width: number, height: number, noise: number, noiseStride: number, amplitudes: number): void;
  mixLuma(a: MixLumaArguments): void;
  mixChroma(a: MixChromaArguments): void;
  toScreen(a: ToScreenArguments): void;
  searchPatches(a: SearchPatchesArguments): void;
  votePatches(a: VotePatchesArguments): void;
  squareExtremes(a: SquareExtremesArguments): void;
  spreadFirst(a: SpreadFirstArguments): void;
  spreadSweep(a: SpreadSweepArguments): void;
  spreadProduct(a: SpreadProductArguments): void;
  spreadGather(a: SpreadGatherArguments): void;
  spreadScatter(from: number, part: number, answer: number, size: number): void;
  spreadDot(a: number, b: number, count: number, out: number): void;
  spreadLargest(a: number, count: number, out: number): void;
  spreadAdd(to: number, from: number, factor: number, count: number): void;
  spreadTurn(way: number, answer: number, factor: number, count: number): void;
  layRows(a: LayRowsArguments): void;
  toneCodes(tables: number, count: number, codes: number, last: number, figures: number, out: number): void;
  toneRows(a: ToneRowsArguments): void;
  toneStops(a: ToneStopsArguments): void;
  reduceArea(a: ReduceAreaArguments): void;
  planesOfRgb(a: PlanesOfRgbArguments): void;
  rgbOfPlanes(a: RgbOfPlanesArguments): void;
}

/** Callers of an instance's exports. */
export function bindKernels(exports: WebAssembly.Exports): Kernels {
  const exported = exports as unknown as ExportedKernels;
  return {
    ...exported,
    motionLevel: (a: MotionLevelArguments) =>
      exported.motionLevel(a.current, a.before, a.after, a.width, a.height, a.blockWidth, a.blockHeight, a.columns, a.rows, a.parents, a.parentColumns, a.parentRows, a.parentShift, a.reachX, a.reachY, a.penalty, a.vectors),
    moveBlocks: (a: MoveBlocksArguments) =>
      exported.moveBlocks(a.src, a.width, a.height, a.vectors, a.columns, a.rows, a.blockWidth, a.blockHeight, a.shiftX, a.shiftY, a.dst),
    foldPlane: (a: FoldPlaneArguments) =>
      exported.foldPlane(a.src, a.width, a.height, a.fromX, a.fromY, a.x, a.y, a.w, a.h, a.shiftX, a.shiftY, a.scale, a.out),
    foldLines: (a: FoldLinesArguments) =>
      exported.foldLines(a.src, a.width, a.height, a.x, a.y, a.w, a.lines, a.upsideDown, a.scale, a.out),
    takePlane: (a: TakePlaneArguments) =>
      exported.takePlane(a.src, a.width, a.height, a.x, a.y, a.w, a.h, a.scale, a.out),
    addFolded: (a: AddFoldedArguments) =>
      exported.addFolded(a.folded, a.w, a.h, a.x, a.y, a.factor, a.plane, a.width, a.fromX, a.fromY, a.left, a.right, a.bottom, a.shiftX, a.shiftY),
    addLines: (a: AddLinesArguments) =>
      exported.addLines(a.folded, a.w, a.lines, a.upsideDown, a.x, a.y, a.factor, a.plane, a.width, a.left, a.right, a.bottom),
    addPlain: (a: AddPlainArguments) =>
      exported.addPlain(a.from, a.stride, a.factor, a.plane, a.width, a.w, a.h),
    addUnfolded: (a: AddUnfoldedArguments) =>
      exported.addUnfolded(a.folded, a.folds, a.w, a.size, a.x, a.y, a.factor, a.data, a.width, a.height),
    deinterlaceFrame: (a: DeinterlaceFrameArguments) =>
      exported.deinterlaceFrame(a.f0, a.f1, a.f2, a.f3, a.f4, a.f5, a.frame, a.width, a.height, a.parity, a.vectors, a.columns, a.rows, a.blockWidth, a.blockHeight, a.bytes0, a.bytes1, a.out0, a.out1),
    shrinkPlane: (a: ShrinkPlaneArguments) =>
      exported.shrinkPlane(a.planes, a.vectors, a.others, a.width, a.height, a.margin, a.step, a.columns, a.rows, a.blockWidth, a.blockHeight, a.sigma, a.levels, a.spectrum, a.trust, a.threshold, a.keep, a.original, a.bell, a.sums, a.strips, a.scratch, a.out),
    blockDifferences: (a: BlockDifferencesArguments) =>
      exported.blockDifferences(a.a, a.b, a.width, a.height, a.blockWidth, a.blockHeight, a.columns, a.rows, a.out),
    averageBlocks: (a: AverageBlocksArguments) =>
      exported.averageBlocks(a.planes, a.count, a.masks, a.width, a.height, a.blockWidth, a.blockHeight, a.columns, a.rows, a.out),
    resampleRows: (a: ResampleRowsArguments) =>
      exported.resampleRows(a.src, a.width, a.height, a.starts, a.weights, a.taps, a.outHeight, a.dst),
    resampleColumns: (a: ResampleColumnsArguments) =>
      exported.resampleColumns(a.src, a.width, a.height, a.starts, a.weights, a.taps, a.outWidth, a.pad, a.line, a.dst),
    limitRinging: (a: LimitRingingArguments) =>
      exported.limitRinging(a.src, a.width, a.height, a.columns, a.rows, a.outWidth, a.outHeight, a.slack, a.lines, a.data),
    smoothAlongEdges: (a: SmoothAlongEdgesArguments) =>
      exported.smoothAlongEdges(a.src, a.stride, a.width, a.height, a.strength, a.floor, a.tensor, a.data),
    mixLuma: (a: MixLumaArguments) =>
      exported.mixLuma(a.luma, a.width, a.height, a.cb, a.cr, a.chromaWidth, a.shiftX, a.shiftY, a.fromCb, a.fromCr),
    mixChroma: (a: MixChromaArguments) =>
      exported.mixChroma(a.cb, a.cr, a.count, a.bb, a.br, a.rb, a.rr),
    toScreen: (a: ToScreenArguments) =>
      exported.toScreen(a.luma, a.width, a.height, a.cb, a.cr, a.chromaWidth, a.chromaHeight, a.shiftX, a.shiftY, a.black, a.gain, a.rr, a.gb, a.gr, a.bb, a.lines, a.out),
    searchPatches: (a: SearchPatchesArguments) =>
      exported.searchPatches(a.planes, a.count, a.width, a.height, a.trust, a.usable, a.targets, a.targetCount, a.rounds, a.seed, a.reach, a.matches, a.distances),
    votePatches: (a: VotePatchesArguments) =>
      exported.votePatches(a.planes, a.count, a.width, a.height, a.targets, a.targetCount, a.matches, a.weights, a.wanted, a.sums),
    squareExtremes: (a: SquareExtremesArguments) =>
      exported.squareExtremes(a.src, a.width, a.height, a.radius, a.highest, a.between, a.line, a.dst),
    spreadFirst: (a: SpreadFirstArguments) =>
      exported.spreadFirst(a.x, a.b, a.starts, a.to, a.widths, a.inverse, a.size),
    spreadSweep: (a: SpreadSweepArguments) =>
      exported.spreadSweep(a.x, a.b, a.starts, a.to, a.widths, a.inverse, a.size, a.backwards),
    spreadProduct: (a: SpreadProductArguments) =>
      exported.spreadProduct(a.x, a.starts, a.to, a.widths, a.pull, a.size, a.out),
    spreadGather: (a: SpreadGatherArguments) =>
      exported.spreadGather(a.x, a.starts, a.to, a.widths, a.part, a.size, a.out),
    layRows: (a: LayRowsArguments) =>
      exported.layRows(a.raster, a.rasterWidth, a.alike, a.least, a.light, a.lightWidth, a.lightHeight, a.across, a.down, a.columns, a.rows, a.width, a.height, a.figures, a.ownCb, a.ownCr, a.ownWidth, a.outCb, a.outCr),
    toneRows: (a: ToneRowsArguments) =>
      exported.toneRows(a.luma, a.cb, a.cr, a.stride, a.moved, a.direct, a.width, a.height, a.tables, a.codes, a.last, a.figures, a.uneven, a.recolours, a.outLuma, a.outCb, a.outCr),
    toneStops: (a: ToneStopsArguments) =>
      exported.toneStops(a.luma, a.cb, a.cr, a.count, a.tables, a.figures, a.out),
    reduceArea: (a: ReduceAreaArguments) =>
      exported.reduceArea(a.plane, a.width, a.height, a.line, a.outWidth, a.outHeight, a.out),
    planesOfRgb: (a: PlanesOfRgbArguments) =>
      exported.planesOfRgb(a.from, a.wide, a.count, a.matrix, a.luma, a.cb, a.cr),
    rgbOfPlanes: (a: RgbOfPlanesArguments) =>
      exported.rgbOfPlanes(a.luma, a.cb, a.cr, a.count, a.figures, a.wide, a.out),
  };
}
