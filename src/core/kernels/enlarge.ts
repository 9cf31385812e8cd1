import { ENTRIES, plainTables, type LightTables } from '../picture/light';
import { newPlane, type Plane, type Region } from '../picture/picture';
import { resampleTaps, type Axis, type ResampleFilter } from './reference/taps';
import { kernels } from './wasm';

export interface EnlargeOptions {
  /** Smoothing along edges, 0 to 1. */
  edges: number;
  /** How far a sample may go beyond the source samples round it, as a share of their spread; infinite to let it ring. */
  slack: number;
  /** How much of what a reduction of the result misses of the source is put back, 0 to 1. */
  consistency: number;
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
 * @param fine taken instead of the interpolation, resampled in light where the plane has less room than it; reduction and
 *   putting back follow as ever, so that the result gives back `source`.
 */
export function resizePlane(
  source: Plane,
  sourceRegion: Region,
  wanted: Region,
  map: Mapping,
  tables: LightTables,
  options: EnlargeOptions,
  fine?: FineStart,
): Plane {
  const { run, arena } = kernels();
  const enlarging = map.x.to >= map.x.from && map.y.to >= map.y.from;
  // Refinement looks at its surroundings: work on a wider part and cut it.
  const work = enlarging ? widened(wanted, map) : wanted;
  const samples = work.width * work.height;
  return arena.scope(() => {
    const codes = arena.put16(source.data);
    const light = putTables(tables);
    const plain = putTables(plainTables());
    const start = arena.reserve(source.data.length * 4);
    run.toFloat(codes, source.data.length, enlarging ? plain.forward : light.forward, start);
    const out = arena.reserve(samples * 2 + 16);
    const data =
      fine && enlarging
        ? fromFine(fine, map, work, light, plain)
        : resample(start, source, plan(map, enlarging ? 'lanczos3' : 'area', work, sourceRegion), work);
    if (enlarging) {
      const columns = nearest(map.x, work.x, work.width, sourceRegion.x),
        rows = nearest(map.y, work.y, work.height, sourceRegion.y);
      if (!fine && options.slack < 10)
        run.limitRinging(
          start,
          source.width,
          source.height,
          columns,
          rows,
          work.width,
          work.height,
          options.slack,
          arena.reserve(work.width * 8),
          data,
        );
      if (!fine && options.edges > 0) alongEdges(data, work, options.edges);
      if (options.consistency > 0)
        arena.scope(() => {
          const back = { x: { ...map.x, from: map.x.to, to: map.x.from }, y: { ...map.y, from: map.y.to, to: map.y.from } };
          const bright = arena.reserve(samples * 4);
          run.fromFloat(data, samples, plain.back, ENTRIES, out);
          run.toFloat(out, samples, light.forward, bright);
          const reduced = resample(bright, work, plan(back, 'area', sourceRegion, work), sourceRegion);
          run.fromFloat(reduced, source.data.length, light.back, ENTRIES, codes);
          run.toFloat(codes, source.data.length, plain.forward, reduced);
          run.subtract(start, reduced, source.data.length, reduced);
          run.addScaled(data, resample(reduced, source, plan(map, 'cubic', work, sourceRegion), work), options.consistency, samples);
        });
    }
    run.fromFloat(data, samples, enlarging ? plain.back : light.back, ENTRIES, out);
    const result = newPlane(wanted.width, wanted.height);
    for (let y = 0; y < wanted.height; y++) {
      const at = out + ((wanted.y - work.y + y) * work.width + wanted.x - work.x) * 2;
      result.data.set(arena.view16(at, wanted.width), y * wanted.width);
    }
    return result;
  });
}

/** A finer picture at the wanted size: enlarged on its codes, reduced in light. */
function fromFine(fine: FineStart, map: Mapping, work: Region, light: Tables, plain: Tables): number {
  const { run, arena } = kernels();
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
    run.fromFloat(data, fine.data.length, plain.back, ENTRIES, codes);
    run.toFloat(codes, fine.data.length, light.forward, data);
    const reduced = resample(data, fine.region, plan(finer, 'area', work, fine.region), work);
    run.fromFloat(reduced, samples, light.back, ENTRIES, codes);
    run.toFloat(codes, samples, plain.forward, result);
  });
  return result;
}

interface Tables {
  forward: number;
  back: number;
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
    const taps = resampleTaps(axis, filter, first, length, from);
    return { starts: arena.putInts(taps.starts), weights: arena.putFloats(taps.weights), count: taps.count };
  };
  return { rows: put(map.y, wanted.y, wanted.height, source.y), columns: put(map.x, wanted.x, wanted.width, source.x) };
}

function resample(from: number, { width, height }: { width: number; height: number }, p: ResamplePlan, wanted: Region): number {
  const { run, arena } = kernels();
  const out = arena.reserve(wanted.width * wanted.height * 4);
  const pad = p.columns.count + 64;
  arena.scope(() => {
    const line = arena.reserve((width + 2 * pad) * 4);
    const between = arena.reserve(width * wanted.height * 4);
    run.resampleRows(from, width, height, p.rows.starts, p.rows.weights, p.rows.count, wanted.height, between);
    run.resampleColumns(between, width, wanted.height, p.columns.starts, p.columns.weights, p.columns.count, wanted.width, pad, line, out);
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

/** Copies the part into a plane with a replicated border, smooths there, and copies back. */
function alongEdges(data: number, part: Region, strength: number): void {
  const { run, arena } = kernels();
  const border = 4;
  const stride = Math.ceil((part.width + 2 * border) / 4) * 4 + 8,
    height = part.height + 2 * border;
  arena.scope(() => {
    const padded = arena.reserve(stride * height * 4),
      smooth = arena.reserve(stride * height * 4),
      tensor = arena.reserve(3 * stride * height * 4);
    run.padFloats(data, part.width, part.height, border, stride, padded);
    run.smoothAlongEdges(padded, stride, height, strength, FLOOR, tensor, smooth);
    run.cutFloats(smooth, stride, border, part.width, part.height, data);
  });
}
