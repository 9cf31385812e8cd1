import { normalStream, randomStream } from '../../src/core';
import { ramp } from './ease';
import { grown, skull, worn, type Vector } from './head';
import type { HairStyle, Identity, Look } from './person';
import { dot, unit } from './place';

interface Style {
  /** Lengths on top, at the sides and in the neck; the head is 2.3 high. */
  top: number;
  sides: number;
  neck: number;
  /** How far it stands off the skull on top and at the sides. */
  lift: number;
  close: number;
  /** Height of the hairline over the forehead, as a direction's. */
  line: number;
  /** How it is combed: from a parting, all round from the crown, or to a knot behind. */
  comb: 'parting' | 'round' | 'back';
  /** Height and length of waves. */
  wave: [height: number, length: number];
  /** How much the strands of a lock draw together towards their ends. */
  locks: number;
}

const STYLES: Record<Exclude<HairStyle, 'bald'>, Style> = {
  short: {
    ...{ top: 0.6, sides: 0.15, neck: 0.08, lift: 0.11, close: 0.03, line: 0.7 },
    ...{ comb: 'parting', wave: [0.012, 0.5], locks: 0.5 },
  },
  fringe: {
    ...{ top: 0.78, sides: 0.4, neck: 0.16, lift: 0.09, close: 0.06, line: 0.76 },
    ...{ comb: 'round', wave: [0.012, 0.45], locks: 0.55 },
  },
  bob: {
    ...{ top: 1.25, sides: 1.0, neck: 0.75, lift: 0.13, close: 0.12, line: 0.7 },
    ...{ comb: 'parting', wave: [0.05, 0.42], locks: 0.62 },
  },
  long: {
    ...{ top: 2.7, sides: 2.3, neck: 2, lift: 0.08, close: 0.07, line: 0.72 },
    ...{ comb: 'parting', wave: [0.02, 0.8], locks: 0.6 },
  },
  bun: {
    ...{ top: 1.5, sides: 1.3, neck: 1.1, lift: 0.15, close: 0.09, line: 0.64 },
    ...{ comb: 'back', wave: [0.02, 0.4], locks: 0.45 },
  },
};

/** One strand: its points from the root on, and what colour it is. */
export interface Strand {
  points: Vector[];
  /** Of 1: lighter or darker than the hair is. */
  shade: number;
  /** How far it has lost its colour, 0 to 1. */
  white: number;
}

/** Length of a step along a strand. */
const STEP = 0.05;
/** Locks of a head. */
const LOCKS = 500;
/** Where the knot of a bun is, and its radii. */
const KNOT: Vector = [0, 0.5, -1.12],
  KNOT_SIZE: Vector = [0.34, 0.26, 0.26];

const mix = (a: Vector, b: Vector, t: number): Vector => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
const plus = (a: Vector, b: Vector, by = 1): Vector => [a[0] + by * b[0], a[1] + by * b[1], a[2] + by * b[2]];

/** Height of the hairline of a full head by the angle from the front: over the forehead, down before the ear, over it, and down to the neck. */
const HAIRLINE: [angle: number, height: number][] = [
  [0, 0],
  [0.3, 0.01],
  [0.52, -0.03],
  [0.72, -0.16],
  [0.9, -0.42],
  [1.04, -0.72],
  [1.2, -0.8],
  [1.32, -0.72],
  [1.42, -0.5],
  [1.62, -0.46],
  [1.8, -0.72],
  [2, -1.02],
  [2.4, -1.16],
  [Math.PI + 0.01, -1.2],
];

function hairline(angle: number): number {
  const next = HAIRLINE.findIndex(([a]) => a > angle);
  const [a0, h0] = HAIRLINE[next - 1],
    [a1, h1] = HAIRLINE[next];
  return h0 + ((h1 - h0) * (angle - a0)) / (a1 - a0);
}

/** How far inside the hairline a direction of the head is, above 0 where hair grows. */
function inside(who: Identity, look: Look, style: Style, d: Vector): number {
  const angle = Math.atan2(Math.abs(d[0]), d[2]);
  const old = who.woman ? 0 : worn(look.age);
  // Men's temples go back with the years.
  const temples = (0.05 + 0.22 * old) * Math.exp(-(((angle - 0.62) / 0.2) ** 2)) + 0.08 * old * Math.exp(-((angle / 0.5) ** 2));
  const sideburns = who.woman || look.age < 14 ? 0.2 * Math.exp(-(((angle - 1.15) / 0.16) ** 2)) : 0;
  // Nobody's line is drawn with a ruler.
  const uneven = 0.012 * Math.sin(23 * angle + who.seed) + 0.01 * Math.sin(51 * angle + 2 * who.seed + Math.sign(d[0]));
  const crown = look.hair === 'bald' ? 3 * ramp(d[1] + 0.3 * d[2], 0.3, 0.62) : 0;
  return d[1] - style.line - hairline(angle) - temples - sideburns - uneven - crown;
}

/** What the strands of a lock share. */
interface Lock {
  root: Vector;
  shade: number;
  lift: number;
  phase: number;
  bend: number;
  points: Vector[];
}

/** Strands of a head. @param count about how many. */
export function strands(who: Identity, look: Look, count: number): Strand[] {
  const random = randomStream(who.seed + 31),
    normal = normalStream(who.seed + 37);
  const style = STYLES[look.hair === 'bald' ? 'short' : look.hair];
  const direction = (): Vector => {
    const y = random() * 2 - 1,
      a = random() * 2 * Math.PI,
      r = Math.sqrt(1 - y * y);
    return [r * Math.sin(a), y, r * Math.cos(a)];
  };
  const growing = (): { root: Vector; in: number } => {
    for (;;) {
      const root = direction(),
        within = inside(who, look, style, root);
      if (within > 0) return { root, in: within };
    }
  };
  const wavy = look.age < 13 ? 0.3 : 1;
  const locks = Array.from({ length: LOCKS }, (): Lock => {
    const { root } = growing();
    const lock = { root, shade: 0.13 * normal(), lift: random(), phase: random(), bend: 0.16 * normal(), points: [] };
    return { ...lock, points: grow(who, look, style, root, { ...lock, wavy, length: 1 }) };
  });
  const grey = worn(look.age) * (who.woman ? 0.75 : 0.9);
  const out: Strand[] = [];
  while (out.length < count) {
    const { root, in: within } = growing();
    // Sparse and short where it begins, and sparse on the crown of those who lose it.
    const full = ramp(within, -0.03, 0.08);
    if (random() > 0.5 + 0.5 * full) continue;
    let lock = locks[0],
      nearest = -2;
    for (const other of locks) {
      const near = dot(other.root, root);
      if (near > nearest) [lock, nearest] = [other, near];
    }
    const loose = random() < 0.035;
    const own = {
      ...lock,
      lift: Math.min(1, Math.max(0.05, 0.35 * lock.lift + 0.75 * Math.sqrt(random()))),
      bend: lock.bend + 0.05 * normal(),
      wavy,
    };
    const points = grow(who, look, style, root, { ...own, length: (0.45 + 0.55 * full) * (0.72 + 0.28 * random()) });
    const drawn = loose ? 0.15 : style.locks;
    const stray: Vector = [normal(), normal(), normal()];
    out.push({
      points: points.map((p, k) => {
        const along = k / Math.max(1, points.length - 1);
        const guide = lock.points[Math.min(k, lock.points.length - 1)];
        const to = points.length > 2 ? mix(p, guide, drawn * along ** 0.7 * (k < lock.points.length ? 1 : 0.5)) : p;
        return plus(to, stray, (loose ? 0.028 : 0.007) * along);
      }),
      shade: 1 + lock.shade + 0.16 * normal(),
      white: paled(grey, lock.phase, random),
    });
  }
  if (look.hair === 'bun') out.push(...knot(who, count / 5, grey, random, normal));
  return out;
}

interface Growth {
  lift: number;
  bend: number;
  phase: number;
  wavy: number;
  /** Of 1. */
  length: number;
}

/** Which way hair is combed at a direction of the head. */
function combed(style: Style, d: Vector, parting: number): Vector {
  if (style.comb === 'back') return [KNOT[0] - d[0], KNOT[1] - d[1], KNOT[2] - d[2]];
  const crown: Vector = [0.06, 0.93, -0.36];
  const round = unit(plus(d, crown, -dot(d, crown)));
  if (style.comb === 'round') return round;
  const top = ramp(d[1], 0.42, 0.75) * ramp(d[2], -0.55, -0.1);
  const side = d[0] >= parting ? 1 : -1;
  const over: Vector = [side * (side * Math.sign(parting) > 0 ? 0.7 : 0.9), -0.12, -0.42];
  // Hair that is cut short lies towards the back.
  const down: Vector = [0, -1, -0.1 - (style.sides < 0.3 ? 0.9 : 0.3) * ramp(d[2], -0.5, 0.1)];
  return mix(mix(down, round, 0.35), over, top);
}

function grow(who: Identity, look: Look, style: Style, root: Vector, { lift, bend, phase, wavy, length }: Growth): Vector[] {
  const parting = who.seed % 2 ? 0.3 : -0.3;
  const bald = look.hair === 'bald';
  const upper = ramp(root[1], 0.3, 0.74),
    low = ramp(-root[1], 0.05, 0.5);
  const child = 1 - 0.12 * (1 - grown(look.age));
  const full = (style.sides + (style.top - style.sides) * upper * (bald ? 0.3 : 1)) * (1 - low) + style.neck * low;
  const steps = Math.max(2, Math.round((full * length * child) / STEP));
  const points: Vector[] = [];
  let d = root,
    at: Vector = plus([0, 0, 0], root, skull(who, look, root));
  let way: Vector = unit(plus(combed(style, root, parting), root, 0.4));
  for (let k = 0; k <= steps; k++) {
    points.push(at);
    const surface = skull(who, look, d);
    const out = Math.hypot(...at) - surface;
    const high = ramp(d[1], 0.3, 0.75);
    const aim = (style.close + (style.lift - style.close) * high) * (0.12 + 0.88 * lift) * Math.min(1, 0.25 + (k * STEP) / 0.22);
    // Where the head gives way beneath, it hangs.
    const hangs = style.sides > 0.6 && style.comb === 'parting' ? Math.max(ramp(out - aim, 0.02, 0.2), ramp(-d[1], -0.02, 0.2)) : 0;
    const comb = combed(style, d, parting);
    const along = unit(plus(comb, d, -dot(comb, d)));
    const turned = unit(
      plus(along, [along[1] * d[2] - along[2] * d[1], along[2] * d[0] - along[0] * d[2], along[0] * d[1] - along[1] * d[0]], bend),
    );
    const held = unit(plus(turned, d, Math.max(-0.8, Math.min(0.8, (aim - out) / STEP / 2.5))));
    const inwards: Vector = [-0.02 * at[0], -1, 0.03];
    const wanted = mix(held, unit(inwards), 0.9 * hangs);
    way = unit(mix(way, wanted, k === 0 ? 0.55 : 0.6));
    at = plus(at, way, STEP);
    d = unit(at);
    const least = skull(who, look, d) + 0.006;
    if (Math.hypot(...at) < least) at = plus([0, 0, 0], d, least);
  }
  const [height, span] = style.wave;
  if (height * wavy < 0.004) return points;
  return points.map((p, k) => {
    const far = ramp(k * STEP, 0.15, 0.6);
    return plus(p, unit([p[0], 0, p[2]]), height * wavy * far * Math.sin((2 * Math.PI * (p[1] + 0.12 * phase)) / span + 0.5 * phase));
  });
}

/** How white a strand is: some have no colour left, the others less than they had. */
const paled = (grey: number, lock: number, random: () => number): number =>
  random() < grey * (0.2 + 0.5 * lock) ? 0.6 + 0.4 * random() : Math.min(1, grey * (0.35 + 0.5 * lock));

/** Hair wound into a knot behind. */
function knot(who: Identity, count: number, grey: number, random: () => number, normal: () => number): Strand[] {
  return Array.from({ length: Math.round(count) }, () => {
    const tilt = 0.5 + 0.35 * normal(),
      from = random() * 2 * Math.PI,
      r = 0.9 + 0.12 * random(),
      off = 0.75 * (2 * random() - 1);
    const ring = Math.sqrt(1 - off * off);
    const points = Array.from({ length: 16 }, (_, k): Vector => {
      const a = from + k * 0.16;
      const x = ring * Math.cos(a),
        y = ring * Math.sin(a) * Math.cos(tilt) - off * Math.sin(tilt),
        z = ring * Math.sin(a) * Math.sin(tilt) + off * Math.cos(tilt);
      return [KNOT[0] + r * KNOT_SIZE[0] * x, KNOT[1] + r * KNOT_SIZE[1] * y, KNOT[2] + r * KNOT_SIZE[2] * z];
    });
    return { points, shade: 1 + 0.1 * Math.sin(3 * from + who.seed) + 0.14 * normal(), white: paled(grey, random(), random) };
  });
}
