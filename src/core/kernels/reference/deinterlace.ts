/**
 * The missing lines of a field, plain TypeScript: the reference the SIMD kernel is tested against, in the same whole
 * numbers.
 *
 * Each missing sample lies between two lines of its own field, `above` and `below`. Two answers meet:
 * - in the field: half-way between the lines with a 4-tap filter, or along the edge that passes through, found by
 *   comparing the lines shifted against each other (edge-based line averaging, Doyle and Looymans, 1990);
 * - in time: the mean of the fields before and after at the same place, or where block matching says it went, which is
 *   exact where nothing changes.
 * The in-field answer is held within `bound` of the one in time; the bound grows with how much the fields disagree, over
 * one and two fields, and with how far the mean stands out of its column, beyond what the fields it comes from do: that is a
 * comb. Where something moved, a comb is never believed, for fences and stripes agree with themselves one post further; where
 * nothing moved, up to four times the disagreement, and all of it where they disagree by more than noise would. Where nothing
 * changes the bound is nothing, and still detail comes back whole.
 */

import { MARGIN } from './motion';

/** A plane of 15-bit samples with MARGIN replicated on every side. */
export interface FieldPlane {
  stride: number;
  data: Int16Array;
}

export interface FieldJob {
  /** Five fields in time order; the middle one has the lines that are there. */
  fields: FieldPlane[];
  width: number;
  /** Lines of a field. */
  lines: number;
  /** Which lines of the frame the middle field holds: 0 for 0, 2, 4, ... */
  parity: 0 | 1;
  /** x, y a block, field samples a frame; none for still. */
  vectors?: Int16Array;
  columns: number;
  rows: number;
  blockWidth: number;
  blockHeight: number;
  edges: boolean;
}

export function padFieldReference(frame: Uint16Array, width: number, lines: number, first: number): FieldPlane {
  const stride = width + 2 * MARGIN;
  const data = new Int16Array(stride * (lines + 2 * MARGIN));
  for (let y = -MARGIN; y < lines + MARGIN; y++) {
    const line = first + 2 * Math.min(lines - 1, Math.max(0, y));
    for (let x = -MARGIN; x < width + MARGIN; x++) {
      data[(y + MARGIN) * stride + x + MARGIN] = frame[line * width + Math.min(width - 1, Math.max(0, x))] >> 1;
    }
  }
  return { stride, data };
}

const saturated = (v: number): number => Math.min(32767, Math.max(-32768, v));
const average = (a: number, b: number): number => (a + b + 1) >> 1;
const scaled = (a: number, q15: number): number => saturated((a * q15 + 0x4000) >> 15);

const half = (a: number, b: number, c: number, d: number): number => {
  const near = average(b, c);
  return Math.max(0, saturated(near + ((near - average(a, d)) >> 3)));
};

const EDGE_WEIGHT = 19661;
const DETAIL_WEIGHT = 5120;
const UNSURE = 6144;
const MAX_CHANGE = 2047;
const SLIGHT = 384;
const STEEP = 81;
const CAP = 28;

/** How far the fields' disagreement lets a sample go towards the lines beside it. */
const allowed = (change: number): number =>
  saturated((Math.min(change, MAX_CHANGE) << 2) + (Math.min(Math.max(0, change - SLIGHT), MAX_CHANGE) << 4));

/** Fills the missing lines of `out`, a full frame of 16-bit samples. */
export function deinterlaceReference(job: FieldJob, out: Uint16Array): void {
  const [p2, p1, cur, n1, n2] = job.fields;
  const row = cur.stride;
  const at = (plane: FieldPlane, x: number, y: number): number => plane.data[(y + MARGIN) * row + x + MARGIN];
  const shift = job.parity === 0 ? 0 : -1;

  const along = (x: number, k: number, vx: number, vy: number) => {
    const up = k + shift;
    const ca = at(cur, x, up),
      cb = at(cur, x, up + 1);
    const odd = (vx & 1) !== 0,
      dx = vx >> 1;
    const back = (dy: number): number => {
      const px = x - dx,
        py = k - vy + dy;
      return odd ? half(at(p1, px - 2, py), at(p1, px - 1, py), at(p1, px, py), at(p1, px + 1, py)) : at(p1, px, py);
    };
    const ahead = (dy: number): number => {
      const px = x + dx,
        py = k + vy + dy;
      return odd ? half(at(n1, px - 1, py), at(n1, px, py), at(n1, px + 1, py), at(n1, px + 2, py)) : at(n1, px, py);
    };
    const p = back(0),
      n = ahead(0);
    const mean = average(p, n),
      apart = Math.abs(p - n);
    const t1 = average(Math.abs(at(p2, x - vx, up - 2 * vy) - ca), Math.abs(at(p2, x - vx, up - 2 * vy + 1) - cb));
    const t2 = average(Math.abs(at(n2, x + vx, up + 2 * vy) - ca), Math.abs(at(n2, x + vx, up + 2 * vy + 1) - cb));
    const change = Math.max(apart >> 1, t1, t2);
    const past = (dy: number): number => (odd ? average(at(p1, x - dx - 1, k - vy + dy), at(p1, x - dx, k - vy + dy)) : back(dy));
    const future = (dy: number): number => (odd ? average(at(n1, x + dx, k + vy + dy), at(n1, x + dx + 1, k + vy + dy)) : ahead(dy));
    const upper = average(past(-1), future(-1)),
      lower = average(past(1), future(1));
    const b = upper - ca,
      f = lower - cb,
      da = mean - ca,
      db = mean - cb;
    const most = Math.max(db, da, Math.min(b, f)),
      least = Math.min(db, da, Math.max(b, f));
    const comb = Math.max(least, -most);
    return {
      ca,
      cb,
      mean,
      apart,
      bound: Math.max(change, vx || vy ? comb : Math.min(allowed(change), comb)),
      detail: saturated(mean - upper + (mean - lower)),
    };
  };

  const byte = (x: number, y: number): number => at(cur, x, y) >> 7;
  const cost = (x: number, up: number, d: number): number => {
    let sum = 0;
    for (let i = x - 4; i <= x + 4; i++) sum += Math.min(CAP, Math.abs(byte(i + d, up) - byte(i - d, up + 1)));
    return sum;
  };
  const direction = (x: number, up: number): number => {
    const straight = cost(x, up, 0);
    if (straight <= STEEP) return 0;
    const quarter = (((straight + 1) >> 1) + 1) >> 1;
    let least = quarter + ((((quarter + 1) >> 1) + 1) >> 1),
      found = 0;
    for (let d = -3; d <= 3; d++) {
      if (d === 0) continue;
      const c = cost(x, up, d);
      if (c < least) [least, found] = [c, d];
    }
    return found;
  };

  for (let k = 0; k < job.lines; k++) {
    const up = k + shift;
    for (let x = 0; x < job.width; x += 8) {
      const block = (Math.min(job.rows - 1, Math.floor(k / job.blockHeight)) * job.columns + Math.floor(x / job.blockWidth)) * 2;
      const vx = job.vectors?.[block] ?? 0,
        vy = Math.trunc((job.vectors?.[block + 1] ?? 0) / 2);
      // Eight samples share one decision whether edges are looked for.
      const lanes = Array.from({ length: 8 }, (_, i) => along(x + i, k, vx, vy));
      const search = job.edges && lanes.some((l) => l.bound > UNSURE);
      for (let i = 0; i < 8 && x + i < job.width; i++) {
        const { ca, cb, mean, apart, bound, detail } = lanes[i];
        const near = average(ca, cb),
          far = average(at(cur, x + i, up - 1), at(cur, x + i, up + 2));
        let value = saturated(near + ((near - far) >> 3));
        if (search) {
          const d = direction(x + i, up);
          if (d !== 0) value = saturated(value + scaled(average(at(cur, x + i + d, up), at(cur, x + i - d, up + 1)) - value, EDGE_WEIGHT));
        }
        if (Math.abs(ca - cb) > apart) value = saturated(value + scaled(detail, DETAIL_WEIGHT));
        value = Math.max(Math.min(value, saturated(mean + bound)), saturated(mean - bound), 0);
        out[(2 * k + 1 - job.parity) * job.width + x + i] = value << 1;
      }
    }
  }
}
