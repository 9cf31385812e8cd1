import { LRUCache } from 'lru-cache';
import { ENTRIES, plainTables, type LightTables } from '../picture/light';
import { newPlane, type Plane, type Region } from '../picture/picture';
import { resampleTaps, type Axis, type ResampleFilter, type Taps } from './reference/taps';
import { kernels } from './wasm';

export interface EnlargeOptions {
  /** Smoothing along edges, 0 to 1. */
  edges: number;
  /** How far a sample may go beyond the source samples round it, as a share of their spread; infinite to let it ring. */
  slack: number;
  /** How much of what a reduction of the result misses of the source is put back, 0 to 1. */
  consistency: number;
  /**
   * Taken instead of the interpolation, resampled in light where the plane has less room than it; reduction and putting back follow as
   * ever, so that the result gives back the source.
   */
  fine?: FineStart;
}

/** Source samples an output sample may depend on, each side: filter, edges, then reduction and enlargement again. */
export const ENLARGE_BORDER = 16;

/** A finer picture of the same plane to start from, such as a network makes. */
export interface FineStart {
  /** Codes from 0 to 1, row by row. */
  data: Float32Array;
  /** Its place in the frame at `factor` times the source's size. */
  region: Region;
  factor: number;
}

/** Axes of a plane's change of size. */
export interface Mapping {
  x: Axis;
  y: Axis;
}

/** Codes back at 1 / 65535 of light each: coherence of gradients below this is noise. */
const FLOOR = 2e-6;

/**
 * Part `wanted` of a plane at another size.
 *
 * A reduction gathers light, as a sensor does. An enlargement is interpolated on code values, which ring evenly on dark
 * and bright sides of an edge, held within the neighbouring source samples, and smoothed along its edges, which takes
 * their steps away; then it is reduced again in light, and what that misses of the source is enlarged and put back
 * (iterative back-projection, Irani and Peleg, 1991): the result gives back the source when its light is gathered.
 *
 * @param source the plane's samples from `sourceRegion` on; it must reach ENLARGE_BORDER beyond what `wanted` maps to
 *   or to the frame's edge.
 */
export function resizePlane(
  source: Plane,
  sourceRegion: Region,
  wanted: Region,
  map: Mapping,
  tables: LightTables,
  options: EnlargeOptions,
): Plane {
  const { run, arena } = kernels();
  const { fine } = options;
  const enlarging = map.x.to >= map.x.from && map.y.to >= map.y.from;
  // Refinement looks at its surroundings: work on a wider part and cut it.
  const work = enlarging ? widened(wanted, map) : wanted;
  const samples = work.width * work.height;
  return arena.scope(() => {
    const codes = arena.put16(source.data);
    const light = tables === plainTables() ? PLAIN : putTables(tables);
    const start = arena.reserve(source.data.length * 4);
    toFloats(codes, source.data.length, enlarging ? PLAIN : light, start);
    const out = arena.reserve(samples * 2 + 16);
    const data =
      fine && enlarging
        ? fromFine(fine, map, work, light)
        : resample(start, source, plan(map, enlarging ? 'lanczos3' : 'area', work, sourceRegion), work);
    if (enlarging) {
      const columns = nearest(map.x, work.x, work.width, sourceRegion.x),
        rows = nearest(map.y, work.y, work.height, sourceRegion.y);
      if (!fine && options.slack < 10)
        run.limitRinging({
          src: start,
          width: source.width,
          height: source.height,
          columns,
          rows,
          outWidth: work.width,
          outHeight: work.height,
          slack: options.slack,
          lines: arena.reserve((work.width + source.width + 1) * 8),
          data,
        });
      if (!fine && options.edges > 0) alongEdges(data, work, options.edges);
      if (options.consistency > 0)
        arena.scope(() => {
          const back = { x: { ...map.x, from: map.x.to, to: map.x.from }, y: { ...map.y, from: map.y.to, to: map.y.from } };
          const bright = arena.reserve(samples * 4);
          toCodes(data, samples, PLAIN, out);
          toFloats(out, samples, light, bright);
          const reduced = resample(bright, work, plan(back, 'area', sourceRegion, work), sourceRegion);
          toCodes(reduced, source.data.length, light, codes);
          toFloats(codes, source.data.length, PLAIN, reduced);
          run.subtract(start, reduced, source.data.length, reduced);
          run.addScaled(data, resample(reduced, source, plan(map, 'cubic', work, sourceRegion), work), options.consistency, samples);
        });
    }
    toCodes(data, samples, enlarging ? PLAIN : light, out);
    const result = newPlane(wanted.width, wanted.height);
    for (let y = 0; y < wanted.height; y++) {
      const at = out + ((wanted.y - work.y + y) * work.width + wanted.x - work.x) * 2;
      result.data.set(arena.view16(at, wanted.width), y * wanted.width);
    }
    return result;
  });
}

/**
 * Part `wanted` of a plane enlarged by the Keys cubic (1981) alone, as floats: codes from 0 to 1.
 *
 * @param source the plane's samples from `sourceRegion` on, with three more than `wanted` maps to on each side, or to the
 *   frame's edge.
 */
export function enlargedCubic(source: Plane, sourceRegion: Region, wanted: Region, map: Mapping): Float32Array {
  const { arena } = kernels();
  return arena.scope(() => {
    const start = arena.reserve(source.data.length * 4);
    toFloats(arena.put16(source.data), source.data.length, PLAIN, start);
    return arena.takeFloats(resample(start, source, plan(map, 'cubic', wanted, sourceRegion), wanted), wanted.width * wanted.height);
  });
}

/** Codes from 0 to 1 as a plane of 16 bits, rounded and held in their range. */
export function codesOf(data: Float32Array, width: number, height: number): Plane {
  const { run, arena } = kernels();
  return arena.scope(() => {
    const out = arena.reserve(data.length * 2 + 16);
    run.plainFromFloat(arena.putFloats(data), data.length, out);
    return { width, height, data: arena.take16(out, data.length) };
  });
}

/** A finer picture at the wanted size: enlarged on its codes, reduced in light. */
function fromFine(fine: FineStart, map: Mapping, work: Region, light: Tables): number {
  const { arena } = kernels();
  const finer: Mapping = { x: { ...map.x, from: map.x.from * fine.factor }, y: { ...map.y, from: map.y.from * fine.factor } };
  const data = arena.putFloats(fine.data);
  if (finer.x.to === finer.x.from && finer.y.to === finer.y.from)
    return resample(data, fine.region, plan(finer, 'area', work, fine.region), work);
  if (finer.x.to >= finer.x.from && finer.y.to >= finer.y.from)
    return resample(data, fine.region, plan(finer, 'lanczos3', work, fine.region), work);
  const samples = work.width * work.height;
  const result = arena.reserve(samples * 4);
  arena.scope(() => {
    const codes = arena.reserve(Math.max(fine.data.length, samples) * 2 + 16);
    toCodes(data, fine.data.length, PLAIN, codes);
    toFloats(codes, fine.data.length, light, data);
    const reduced = resample(data, fine.region, plan(finer, 'area', work, fine.region), work);
    toCodes(reduced, samples, light, codes);
    toFloats(codes, samples, PLAIN, result);
  });
  return result;
}

/** Addresses of tables between codes and light; PLAIN leaves codes as they are. */
type Tables = { forward: number; back: number } | typeof PLAIN;
const PLAIN = 'plain';

/** 16-bit codes as floats 0 to 1; `to` has room for whole vectors. */
function toFloats(from: number, count: number, tables: Tables, to: number): void {
  const { run } = kernels();
  if (tables === PLAIN) run.plainToFloat(from, count, to);
  else run.toFloat(from, count, tables.forward, to);
}

/** Floats 0 to 1 as 16-bit codes; `to` has room for whole vectors. */
function toCodes(from: number, count: number, tables: Tables, to: number): void {
  const { run } = kernels();
  if (tables === PLAIN) run.plainFromFloat(from, count, to);
  else run.fromFloat(from, count, tables.back, ENTRIES, to);
}

function putTables(tables: LightTables): Tables {
  const { arena } = kernels();
  return { forward: arena.putFloats(tables.toLight), back: arena.put16(tables.fromLight) };
}

function widened(wanted: Region, map: Mapping): Region {
  const bx = Math.ceil((6 * map.x.to) / map.x.from) + 4,
    by = Math.ceil((6 * map.y.to) / map.y.from) + 4;
  const x = Math.max(0, wanted.x - bx),
    y = Math.max(0, wanted.y - by);
  return {
    x,
    y,
    width: Math.min(map.x.to, wanted.x + wanted.width + bx) - x,
    height: Math.min(map.y.to, wanted.y + wanted.height + by) - y,
  };
}

interface ResamplePlan {
  rows: { starts: number; weights: number; count: number };
  columns: { starts: number; weights: number; count: number };
}

function plan(map: Mapping, filter: ResampleFilter, wanted: Region, source: Region): ResamplePlan {
  const { arena } = kernels();
  const put = (axis: Axis, first: number, length: number, from: number): ResamplePlan['rows'] => {
    const taps = knownTaps(axis, filter, first, length, from);
    return { starts: arena.putInts(taps.starts), weights: arena.putFloats(taps.weights), count: taps.count };
  };
  return { rows: put(map.y, wanted.y, wanted.height, source.y), columns: put(map.x, wanted.x, wanted.width, source.x) };
}

/** Frames of a clip ask for the same taps again and again. */
const tapsKept = new LRUCache<string, Taps>({ max: 24 });

function knownTaps(...asked: Parameters<typeof resampleTaps>): Taps {
  const key = JSON.stringify(asked);
  const taps = tapsKept.get(key) ?? resampleTaps(...asked);
  tapsKept.set(key, taps);
  return taps;
}

function resample(from: number, { width, height }: { width: number; height: number }, p: ResamplePlan, wanted: Region): number {
  const { run, arena } = kernels();
  const out = arena.reserve(wanted.width * wanted.height * 4);
  const pad = p.columns.count + 64;
  arena.scope(() => {
    const line = arena.reserve((width + 2 * pad) * 4);
    const between = arena.reserve(width * wanted.height * 4);
    run.resampleRows({
      src: from,
      width,
      height,
      starts: p.rows.starts,
      weights: p.rows.weights,
      taps: p.rows.count,
      outHeight: wanted.height,
      dst: between,
    });
    run.resampleColumns({
      src: between,
      width,
      height: wanted.height,
      starts: p.columns.starts,
      weights: p.columns.weights,
      taps: p.columns.count,
      outWidth: wanted.width,
      pad,
      line,
      dst: out,
    });
  });
  return out;
}

/** Address of the source sample at or before each output sample's place. */
function nearest(axis: Axis, first: number, length: number, sourceFirst: number): number {
  const scale = axis.from / axis.to;
  return kernels().arena.putInts(
    Int32Array.from({ length }, (_, i) => Math.floor((first + i + axis.siting) * scale - axis.siting) - sourceFirst),
  );
}

/** Smooths the part, read from a copy with a replicated border. */
function alongEdges(data: number, part: Region, strength: number): void {
  const { run, arena } = kernels();
  const border = 4;
  const stride = Math.ceil((part.width + 2 * border) / 4) * 4 + 8,
    height = part.height + 2 * border;
  arena.scope(() => {
    const padded = arena.reserve(stride * height * 4),
      tensor = arena.reserve(12 * stride * 4);
    run.padFloats(data, part.width, part.height, border, stride, padded);
    run.smoothAlongEdges({ src: padded, stride, width: part.width, height: part.height, strength, floor: FLOOR, tensor, data });
  });
}
