import { gauss, ramp } from './ease';
import type { Identity, Look } from './person';

export type Vector = [number, number, number];

const hill = (x: number, y: number, cx: number, cy: number, sx: number, sy: number): number => gauss(x - cx, sx) * gauss(y - cy, sy);

/** Places of a face. Units: the head is about 2.3 high, its middle between the eyes at the origin; x to its left, y up, z forward. */
export interface Plan {
  eyeX: number;
  eyeY: number;
  eyeRadius: number;
  /** Half width and half height of the eye's opening. */
  openX: number;
  openY: number;
  slant: number;
  noseY: number;
  mouthY: number;
  mouthX: number;
  smile: number;
  chinY: number;
}

/** 0 for a small child, 1 for an adult. */
export const grown = (age: number): number => ramp(age, 2, 17);
/** 0 up to thirty, 1 at eighty. */
export const worn = (age: number): number => ramp(age, 30, 82);

export function planOf(who: Identity, look: Look): Plan {
  const adult = grown(look.age);
  return {
    eyeX: 0.3 + 0.035 * who.eyeGap,
    eyeY: -0.1 * (1 - adult),
    eyeRadius: 0.158 + 0.012 * (1 - adult),
    openX: 0.125 + 0.012 * who.eyeSize + 0.012 * (1 - adult),
    openY: (0.056 + 0.013 * who.eyeSize + 0.02 * (1 - adult)) * (1 - 0.25 * worn(look.age)) * (1 - 0.25 * look.smile),
    slant: 0.09 * who.eyeSlant,
    noseY: -0.33 - 0.1 * adult - 0.07 * who.noseLength,
    mouthY: -0.6 - 0.1 * adult,
    mouthX: 0.225 + 0.035 * adult + 0.034 * who.mouthWidth + 0.05 * look.smile,
    smile: look.smile,
    chinY: -0.95 - 0.17 * adult - 0.07 * who.chin,
  };
}

/** How far a place is inside the eye's opening: above 0 inside, in units of its height. `side` is 1 for the person's left eye. */
export function inOpening(p: Plan, x: number, y: number, side: 1 | -1): number {
  const u = (x * side - p.eyeX) / p.openX;
  if (Math.abs(u) >= 1) return -1;
  const middle = p.eyeY + p.slant * u * p.openX;
  const arch = 1 - u * u;
  const v = y - middle;
  return v >= 0 ? arch ** 0.8 - v / p.openY : 0.72 * arch ** 0.9 + v / p.openY;
}

/** Distance along a ray from the origin to an ellipsoid round it. */
function reach(d: Vector, centre: Vector, radii: Vector): number {
  let a = 0,
    b = 0,
    c = -1;
  for (let i = 0; i < 3; i++) {
    a += (d[i] / radii[i]) ** 2;
    b -= (2 * d[i] * centre[i]) / radii[i] ** 2;
    c += (centre[i] / radii[i]) ** 2;
  }
  return (-b + Math.sqrt(Math.max(0, b * b - 4 * a * c))) / (2 * a);
}

/** The head without features: skull and jaw, joined smoothly. */
export function skull(who: Identity, look: Look, d: Vector): number {
  const adult = grown(look.age);
  const wide = 1 + 0.075 * who.width;
  const high: Vector = [0.78 * wide, 0.9, 0.94];
  const low: Vector = [(0.54 + 0.06 * adult + 0.065 * who.jaw) * wide, 0.62 + 0.2 * adult + 0.055 * who.chin, 0.62 + 0.08 * adult];
  const a = reach(d, [0, 0.3, -0.14], high),
    b = reach(d, [0, -0.32 - 0.05 * adult, 0.12], low);
  // Smooth maximum.
  const k = 0.1,
    h = Math.max(0, k - Math.abs(a - b)) / k;
  return Math.max(a, b) + (h * h * k) / 4;
}

/** Where the eyeball's middle lies behind the face. */
export const eyeDepth = (who: Identity, look: Look): number => frontOf(who, look, planOf(who, look).eyeX, planOf(who, look).eyeY) - 0.075;

/** z of the bare face in front of a place. */
function frontOf(who: Identity, look: Look, x: number, y: number): number {
  let z = 0.7;
  for (let i = 0; i < 8; i++) {
    const length = Math.hypot(x, y, z);
    const r = skull(who, look, [x / length, y / length, z / length]);
    z = Math.sqrt(Math.max(0.01, r * r - x * x - y * y));
  }
  return z - 0.09;
}

/** The skin's point in a direction. */
export function skinPoint(who: Identity, look: Look, p: Plan, eyeZ: number, d: Vector): Vector {
  const r = skull(who, look, d);
  const [x, y] = [d[0] * r, d[1] * r];
  let z = d[2] * r;
  const front = ramp(d[2], 0.05, 0.45);
  if (front === 0) return [x, y, z];
  const adult = grown(look.age),
    old = worn(look.age),
    s = Math.abs(x);
  let out = 0;
  // Forehead and brows.
  out += (0.02 + 0.022 * (who.brow + 0.6) * adult) * hill(s, y, 0.27, p.eyeY + 0.2, 0.2, 0.06);
  // Sockets, deeper at the nose.
  out -= 0.085 * hill(s, y, p.eyeX, p.eyeY + 0.01, 0.17, 0.1) + 0.05 * hill(s, y, 0.15, p.eyeY + 0.02, 0.05, 0.07);
  // Nose: a ridge that grows to its tip, and its wings.
  const along = (p.eyeY + 0.14 - y) / (p.eyeY + 0.14 - p.noseY);
  const t = Math.min(1, Math.max(0, along));
  const high = (0.05 + (0.16 + 0.045 * adult) * t ** 1.35 + 0.05 * who.noseBridge * Math.sin(Math.PI * t) * adult) * (0.62 + 0.38 * adult);
  const below = along > 1 ? gauss(p.noseY - y, 0.05) : 1;
  const above = along < 0 ? gauss(y - p.eyeY - 0.14, 0.09) : 1;
  out += high * below * above * gauss(s, 0.066 + (0.042 + 0.022 * who.noseWidth) * t * t);
  out += 0.085 * hill(s, y, 0.105 + 0.016 * who.noseWidth, p.noseY + 0.025, 0.042, 0.048);
  out -= 0.05 * hill(s, y, 0.055, p.noseY - 0.04, 0.026, 0.018);
  // Cheeks, the fold beside the mouth, hollows with age.
  const lift = 0.06 * look.smile;
  out += (0.045 + 0.032 * who.cheeks + 0.035 * look.smile + 0.03 * (1 - adult)) * hill(s, y, 0.43, -0.27 + lift, 0.16, 0.15);
  const fold = s - (0.16 + 0.17 * (p.noseY - y) + 0.05 * look.smile);
  out -=
    (0.012 + 0.025 * old + 0.022 * look.smile) *
    gauss(fold, 0.028) *
    ramp(y, p.mouthY - 0.1, p.mouthY + 0.06) *
    ramp(-y, -p.noseY - 0.06, -p.noseY + 0.06);
  out -= 0.05 * old * hill(s, y, 0.46, -0.5, 0.1, 0.14);
  // Lips with the line between them, which the smile bends.
  const line = lipLine(p, s),
    ends = ramp(-s, -p.mouthX, -p.mouthX * 0.35),
    full = 1 + 0.35 * who.lips - 0.45 * old;
  out += 0.032 * hill(s, y, 0, p.mouthY, 0.2, 0.13);
  out += 0.042 * full * ends * gauss(y - line - 0.036, 0.024) * (1 - 0.25 * gauss(s, 0.025));
  out += 0.055 * full * ends * gauss(y - line + 0.042, 0.03);
  out -= 0.034 * ends * gauss(y - line, 0.009) + 0.02 * hill(s, y, p.mouthX, line, 0.025, 0.025);
  out -= 0.012 * hill(s, y, 0, p.mouthY + 0.1, 0.028, 0.05);
  // Chin.
  out += (0.06 + 0.025 * who.chin) * adult * hill(s, y, 0, p.chinY + 0.14, 0.15, 0.09);
  out -= 0.035 * hill(s, y, 0, p.mouthY - 0.14, 0.15, 0.035);
  z += out * front;
  // Lids lie on the eyeballs; in the opening the skin goes behind them.
  for (const side of [1, -1] as const) {
    const dx = x - side * p.eyeX,
      dy = y - p.eyeY,
      far = Math.hypot(dx, dy * 1.1);
    if (d[2] < 0.2 || far > 0.24) continue;
    const open = inOpening(p, x, y, side);
    const lid = eyeZ + Math.sqrt(Math.max(0, (p.eyeRadius + 0.022) ** 2 - dx * dx - dy * dy));
    const crease = 0.022 * gauss(dy - p.openY - 0.05 + 0.9 * dx * dx, 0.014) * (dy > 0 ? 1 : 0.4);
    const near = 1 - ramp(far, 0.12, 0.21);
    z = z + (Math.max(lid, z - 0.02) - crease - z) * near;
    if (open > 0) z = eyeZ + Math.min(0.06, p.eyeRadius * 0.3) - 0.1 * ramp(open, 0, 0.15);
    else z += 0.012 * gauss(open, 0.16);
  }
  return [x, y, z];
}

/** Height of the line between the lips. */
export const lipLine = (p: Plan, s: number): number =>
  p.mouthY + p.smile * 0.95 * s * s - 0.012 * gauss(s, 0.05) + 0.006 * gauss(s - 0.09, 0.05);
