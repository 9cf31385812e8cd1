import type { Plane } from '../picture/picture';
import { fillPyramid, pyramidRoom, type Pyramid } from './motion';
import { MARGIN } from './reference/motion';
import { kernels } from './wasm';

/** A frame's two fields as the deinterlacing kernels read them, in time order. */
export interface PreparedFields {
  /** The frame itself. */
  frame: number;
  /** 15-bit fields with margins. */
  fields: [number, number];
  /** For the searches: the first field at several sizes, the finest being the field in 8 bits, and the second in 8 bits. */
  search?: { pyramid: Pyramid; secondBytes: number };
}

interface Slot extends PreparedFields {
  plane: Plane | undefined;
  used: number;
}

/** Frames kept for each use: a window of three and the one that comes next. */
const SLOTS = 4;
/** Uses kept apart, such as the planes of a picture, before all are given up. */
const USES = 9;

const pools = new Map<string, Slot[]>();
let clock = 0;

/**
 * The fields of three frames. A frame belongs to three windows one after the other, so what is made of it is kept in the
 * kernels' memory; `use` tells apart callers whose frames alternate.
 *
 * @param searched whether motion or edges will be looked for.
 */
export function prepareFields(frames: Plane[], topFirst: boolean, searched: boolean, use: string): PreparedFields[] {
  const { width, height } = frames[0];
  const key = `${use}/${width}x${height}/${topFirst}/${searched}`;
  if (!pools.has(key) && pools.size >= USES) {
    pools.clear();
    kernels().arena.forgetKept();
  }
  let pool = pools.get(key);
  if (!pool) pools.set(key, (pool = Array.from({ length: SLOTS }, () => makeSlot(width, height >> 1, searched))));
  return frames.map((plane) => prepared(pool, plane, topFirst));
}

function makeSlot(width: number, lines: number, searched: boolean): Slot {
  const { arena } = kernels();
  const keep = (bytes: number): number => arena.keep(bytes);
  const padded = (width + 2 * MARGIN) * (lines + 2 * MARGIN);
  return {
    plane: undefined,
    used: 0,
    frame: keep(width * (2 * lines + 1) * 2),
    fields: [keep(padded * 2), keep(padded * 2)],
    ...(searched && { search: { pyramid: pyramidRoom(width, lines, keep), secondBytes: keep(padded) } }),
  };
}

function prepared(pool: Slot[], plane: Plane, topFirst: boolean): Slot {
  const known = pool.find((slot) => slot.plane === plane);
  const slot = known ?? pool.reduce((oldest, s) => (s.used < oldest.used ? s : oldest));
  slot.used = ++clock;
  if (known) return known;
  const { run, arena } = kernels();
  const { width, height } = plane;
  const lines = height >> 1;
  const [first, second] = topFirst ? [0, 1] : [1, 0];
  slot.plane = plane;
  arena.view16(slot.frame, plane.data.length).set(plane.data);
  run.padField(slot.frame, width, lines, first, slot.fields[0]);
  run.padField(slot.frame, width, lines, second, slot.fields[1]);
  if (slot.search) {
    fillPyramid(slot.search.pyramid, slot.frame, first, 2);
    run.bytesFromPlane(slot.frame, width, lines, second, 2, slot.search.secondBytes);
  }
  return slot;
}
