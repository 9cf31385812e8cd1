import { randomStream } from '../../src/core';
import { skull, worn, type Vector } from './head';
import type { HairStyle, Identity, Look } from './person';

interface Style {
  /** Strands, and steps of each. */
  strands: number;
  steps: number;
  step: number;
  /** How far it lies off the skull, and how strongly it falls. */
  lift: number;
  fall: number;
  /** Height of the hairline in front; how far down it grows at the sides. */
  line: number;
  sides: number;
  /** Combed back (-1), sideways from a parting (0), or forward (1). */
  forward: number;
}

const STYLES: Record<Exclude<HairStyle, 'bald'>, Style> = {
  short: { strands: 20000, steps: 7, step: 0.055, lift: 0.055, fall: 0.12, line: 0.72, sides: -0.12, forward: 0 },
  fringe: { strands: 22000, steps: 9, step: 0.06, lift: 0.06, fall: 0.3, line: 0.8, sides: -0.15, forward: 0.9 },
  bob: { strands: 22000, steps: 15, step: 0.08, lift: 0.1, fall: 0.4, line: 0.74, sides: 0, forward: 0.05 },
  long: { strands: 22000, steps: 24, step: 0.1, lift: 0.09, fall: 0.5, line: 0.76, sides: 0, forward: 0 },
  bun: { strands: 22000, steps: 12, step: 0.07, lift: 0.075, fall: 0.02, line: 0.7, sides: -0.1, forward: -1 },
};

export interface Ribbon {
  points: Vector[];
  /** 0 to 1: which of the hair's tones. */
  tone: number;
}

const unit = ([x, y, z]: Vector): Vector => {
  const n = Math.hypot(x, y, z) || 1;
  return [x / n, y / n, z / n];
};
const ramp = (v: number, from: number, to: number): number => {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
};

/** Whether hair grows in a direction of the head: above 0, and how far inside the hairline. */
function grows(style: Style, look: Look, d: Vector, bald: number): number {
  const [x, y, z] = d;
  // The line comes down at the temples, runs before the ears and round the neck.
  const side = Math.abs(x);
  const front = style.line - 0.34 * ramp(side, 0.3, 0.75);
  const back = -0.62;
  const line =
    z > 0.25
      ? front
      : z > -0.1
        ? style.sides + (front - style.sides) * ramp(z, -0.1, 0.25)
        : back + (style.sides - back) * ramp(z, -0.5, -0.1);
  const crown = bald > 0 ? ramp(y + 0.25 * z, 0.75 - 0.35 * bald, 0.95 - 0.35 * bald) : 0;
  return y - line - 3 * crown;
}

/** Strands of hair as thin ribbons that follow the head and fall; `share` of all of them. */
export function strands(who: Identity, look: Look, share = 1): Ribbon[] {
  const bald = look.hair === 'bald' ? 1 : 0;
  const style = STYLES[look.hair === 'bald' ? 'short' : look.hair];
  const random = randomStream(who.seed + 31);
  const parting = who.seed % 2 ? 0.28 : -0.28;
  const out: Ribbon[] = [];
  const count = style.strands * share * (1 - 0.5 * bald);
  for (let tries = 0; out.length < count && tries < style.strands * 6; tries++) {
    const y = random() * 2 - 1,
      a = random() * 2 * Math.PI,
      r = Math.sqrt(1 - y * y);
    const d: Vector = [r * Math.sin(a), y, r * Math.cos(a)];
    const inside = grows(style, look, d, bald);
    if (inside < 0 || (inside < 0.05 && random() > inside / 0.05)) continue;
    out.push({
      points: strand(who, look, style, d, parting, random),
      tone: Math.min(1, Math.max(0, 0.5 + 0.3 * (random() + random() - 1) + 0.45 * worn(look.age) * (random() > 0.4 ? 1 : 0.2))),
    });
  }
  return out;
}

function strand(who: Identity, look: Look, style: Style, root: Vector, parting: number, random: () => number): Vector[] {
  const lift = style.lift * (0.35 + 0.65 * random());
  const wave = (random() - 0.5) * 0.5,
    length = style.steps * (0.75 + 0.25 * random());
  let d = root;
  let at: Vector = [0, 0, 0];
  const points: Vector[] = [];
  // Which way it is combed: away from the parting, forward or back, and down.
  const side = root[0] - parting >= 0 ? 1 : -1;
  for (let k = 0; k <= length; k++) {
    const surface = skull(who, look, d);
    const off = lift * Math.min(1, 0.25 + k / 2.5);
    const on: Vector = [d[0] * (surface + off), d[1] * (surface + off), d[2] * (surface + off)];
    if (k === 0) at = on;
    const free = Math.hypot(...at) > surface + off;
    points.push(free ? at : on);
    const now = points[k];
    const comb: Vector = [
      side * (1 - Math.abs(style.forward)) * 0.8 + wave * 0.3,
      -0.35 - 0.2 * k * style.fall,
      style.forward * 0.9 - 0.3 * (1 - Math.abs(style.forward)) + wave * 0.2,
    ];
    const radial = comb[0] * d[0] + comb[1] * d[1] + comb[2] * d[2];
    const close = 1 - Math.min(1, style.fall * k * 0.12);
    const way = unit([
      comb[0] * close - radial * d[0] * close,
      comb[1] * close - radial * d[1] * close - style.fall * 0.25 * k,
      comb[2] * close - radial * d[2] * close,
    ]);
    at = [now[0] + way[0] * style.step, now[1] + way[1] * style.step, now[2] + way[2] * style.step];
    d = unit(at);
  }
  return points;
}
