import type { Plane, Region } from '../picture/picture';
import { kernels } from './wasm';

/** Networks see codes 0 to 255 as 0 to 1; samples are 16 bits with 256 steps a code. */
export const SCALE = 1 / 65280;

interface Point {
  x: number;
  y: number;
}

/** Chroma may be coarser than the raster the networks work in: log2 of the samples that share one, sideways and downwards. */
export interface Coarser {
  x: number;
  y: number;
}

const AS_LUMA: Coarser = { x: 0, y: 0 };

/** Where corrections belong. */
export interface Placed {
  /** The part they are for, and the cell inside it that is to be corrected, both in their raster. */
  part: Region;
  cell: Region;
  /** Plane of the result, whose first sample lies at `origin` of the frame. */
  into: Plane;
  origin: Point;
}

/**
 * Part of a plane as four planes of half its size: even and odd columns of even, then of odd lines (pixel-unshuffle, Shi
 * et al., 2016). Edges repeat.
 *
 * @param origin where the plane's first sample lies in the frame.
 * @param part what to take, in samples of the networks' raster; even sizes, and an even place where the plane is coarser.
 * @param out takes the planes one after the other from `at` on.
 */
export function fold(plane: Plane, origin: Point, part: Region, out: Float32Array, at: number, coarser = AS_LUMA): void {
  const { run, arena } = kernels();
  const w = part.width >> 1,
    h = part.height >> 1;
  arena.scope(() => {
    const rows = rowsOf(plane, (part.y >> coarser.y) - origin.y, ((part.y + part.height - 1) >> coarser.y) - origin.y);
    const to = arena.reserve(16 * w * h);
    const from = arena.put16(rows.data);
    run.foldPlane({
      src: from,
      width: plane.width,
      height: rows.count,
      fromX: origin.x,
      fromY: origin.y + rows.first,
      x: part.x,
      y: part.y,
      w,
      h,
      shiftX: coarser.x,
      shiftY: coarser.y,
      scale: SCALE,
      out: to,
    });
    out.set(arena.viewFloats(to, 4 * w * h), at);
  });
}

/**
 * Every other line of a part of a frame, those of one parity, as two planes: even columns, then odd ones. Lines and columns
 * beyond the frame repeat its edge.
 *
 * @param part place and size in the frame; an even place.
 * @param upsideDown whether the last line comes first.
 */
export function foldLines(plane: Plane, parity: 0 | 1, part: Region, upsideDown: boolean, out: Float32Array, at: number): void {
  const { run, arena } = kernels();
  const w = part.width >> 1,
    lines = part.height >> 1;
  arena.scope(() => {
    const to = arena.reserve(8 * w * lines);
    // An even first row keeps the parities.
    const rows = rowsOf(plane, part.y, part.y + part.height - 1);
    run.foldLines({
      src: arena.put16(rows.data),
      width: plane.width,
      height: rows.count,
      x: part.x,
      y: part.y - rows.first + parity,
      w,
      lines,
      upsideDown,
      scale: SCALE,
      out: to,
    });
    out.set(arena.viewFloats(to, 2 * w * lines), at);
  });
}

/** Part of a plane as it is, for planes that are at half size already. Edges repeat. */
export function take(plane: Plane, part: Region, out: Float32Array, at: number): void {
  const { run, arena } = kernels();
  const count = part.width * part.height;
  arena.scope(() => {
    const to = arena.reserve(4 * count);
    const rows = rowsOf(plane, part.y, part.y + part.height - 1);
    run.takePlane({
      src: arena.put16(rows.data),
      width: plane.width,
      height: rows.count,
      x: part.x,
      y: part.y - rows.first,
      w: part.width,
      h: part.height,
      scale: SCALE,
      out: to,
    });
    out.set(arena.viewFloats(to, count), at);
  });
}

/**
 * Adds folded corrections to a cell of a plane, times `share`. Where several corrections share a sample, their mean counts.
 * @param at where they begin.
 */
export function addFolded(
  corrections: Float32Array,
  at: number,
  { part, cell, into, origin }: Placed,
  share: number,
  coarser = AS_LUMA,
): void {
  const { run } = kernels();
  const count = (part.width * part.height) / 4;
  const ends = (first: number, length: number, shift: number): number => (first + length + (1 << shift) - 1) >> shift;
  const left = (cell.x >> coarser.x) - origin.x,
    top = (cell.y >> coarser.y) - origin.y,
    right = Math.min(into.width, ends(cell.x, cell.width, coarser.x) - origin.x),
    bottom = Math.min(into.height, ends(cell.y, cell.height, coarser.y) - origin.y);
  const factor = share / SCALE / (1 << (coarser.x + coarser.y));
  changeRows(into, top, bottom, corrections.subarray(at, at + 4 * count), (folded, rows) =>
    run.addFolded({
      folded,
      w: part.width >> 1,
      h: part.height >> 1,
      x: part.x,
      y: part.y,
      factor,
      plane: rows,
      width: into.width,
      fromX: origin.x,
      fromY: origin.y + top,
      left,
      right,
      bottom: bottom - top,
      shiftX: coarser.x,
      shiftY: coarser.y,
    }),
  );
}

/**
 * Adds corrections folded across to the lines of one parity of a cell; the result begins on an even line.
 *
 * @param upsideDown whether the last line comes first.
 */
export function addLines(corrections: Float32Array, parity: 0 | 1, { part, cell, into, origin }: Placed, upsideDown: boolean): void {
  const { run } = kernels();
  const top = cell.y - origin.y,
    left = cell.x - origin.x;
  changeRows(into, top, top + cell.height, corrections, (folded, rows) =>
    run.addLines({
      folded,
      w: part.width >> 1,
      lines: part.height >> 1,
      upsideDown,
      x: part.x - origin.x,
      y: part.y + parity - cell.y,
      factor: 1 / SCALE,
      plane: rows,
      width: into.width,
      left,
      right: left + cell.width,
      bottom: cell.height,
    }),
  );
}

/** Adds corrections that have the plane's own raster. */
export function addPlain(corrections: Float32Array, at: number, { part, cell, into, origin }: Placed, share: number): void {
  const { run } = kernels();
  const top = cell.y - origin.y;
  const first = at + (cell.y - part.y) * part.width;
  changeRows(into, top, top + cell.height, corrections.subarray(first, first + cell.height * part.width), (from, rows) =>
    run.addPlain({
      from: from + 4 * (cell.x - part.x),
      stride: part.width,
      factor: share / SCALE,
      plane: rows + 2 * (cell.x - origin.x),
      width: into.width,
      w: cell.width,
      h: cell.height,
    }),
  );
}

/** Corrections of a network folded by more than two. */
export interface FoldedCorrections {
  /** `folds` x `folds` planes of `size`, one behind the other. */
  planes: Float32Array;
  folds: number;
  size: { width: number; height: number };
}

/** A part of a plane of floats. */
export interface FloatPart {
  data: Float32Array;
  /** Floats from one row to the next. */
  stride: number;
  part: Region;
}

/**
 * Adds corrections to a part of a plane of floats, in its units.
 *
 * @param first place of the part in the unfolded corrections.
 * @param factor what one of the corrections is in the plane's units.
 */
export function addUnfolded(
  { planes, folds, size }: FoldedCorrections,
  first: Point,
  factor: number,
  { data: into, stride, part }: FloatPart,
): void {
  const { run, arena } = kernels();
  arena.scope(() => {
    const data = arena.reserve(4 * part.width * part.height);
    const line = (y: number): Float32Array => into.subarray((part.y + y) * stride + part.x, (part.y + y) * stride + part.x + part.width);
    const folded = arena.putFloats(planes);
    const rows = arena.viewFloats(data, part.width * part.height);
    for (let y = 0; y < part.height; y++) rows.set(line(y), y * part.width);
    run.addUnfolded({
      folded,
      folds,
      w: size.width,
      size: size.width * size.height,
      x: first.x,
      y: first.y,
      factor,
      data,
      width: part.width,
      height: part.height,
    });
    for (let y = 0; y < part.height; y++) line(y).set(rows.subarray(y * part.width, (y + 1) * part.width));
  });
}

/** Rows of a plane from one to another, held to those it has. */
function rowsOf({ width, height, data }: Plane, from: number, to: number): { first: number; count: number; data: Uint16Array } {
  const held = (y: number): number => Math.min(height - 1, Math.max(0, y));
  const first = held(from) & ~1,
    count = held(to) + 1 - first;
  return { first, count, data: data.subarray(first * width, (first + count) * width) };
}

/** Lets a kernel change rows of a plane by corrections; it gets the addresses of both. */
function changeRows(
  into: Plane,
  top: number,
  bottom: number,
  corrections: Float32Array,
  change: (corrections: number, rows: number) => void,
): void {
  const { arena } = kernels();
  const data = into.data.subarray(top * into.width, bottom * into.width);
  arena.scope(() => {
    const from = arena.putFloats(corrections),
      rows = arena.put16(data);
    change(from, rows);
    data.set(arena.view16(rows, data.length));
  });
}
