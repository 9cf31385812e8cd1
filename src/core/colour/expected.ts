import { labOf, type Lab } from '../metrics/colourDifference';
import { TRANSFERS } from '../picture/light';
import { toRgbMatrix } from '../picture/matrix';
import { CLASSES, type Chroma } from './classes';

/** Strengths of a colour that are tried, at one distance from one another. */
const STRENGTHS = [0, 0.4, 0.8, 1.2, 1.6];
/** Likelihood under which a class has no say. */
const LEAST = 0.004;
/** Lightnesses for which the classes' colours are known, and codes of 255 from one to the next. */
const LIGHTS = 33,
  STEP = 8;

const lightOf = Float32Array.from({ length: 256 }, (_, v) => TRANSFERS.srgb.toLight(v / 255));
const ROWS = toRgbMatrix('bt601');

/** @param luma, cb, cr codes of 255, chroma 0 for grey. */
function labOfCodes(luma: number, cb: number, cr: number): Lab {
  const [red, green, blue] = ROWS.map(([y, b, r]) => lightOf[Math.min(255, Math.max(0, Math.round(y * luma + b * cb + r * cr)))]);
  return labOf(red, green, blue);
}

const table = new Map<number, Lab[]>();

/** The classes at a lightness. */
function classesAt(luma: number): Lab[] {
  const level = Math.min(LIGHTS - 1, Math.round(luma / STEP));
  const known = table.get(level) ?? CLASSES.map(({ cb, cr }) => labOfCodes(Math.min(255, STEP * level), cb, cr));
  table.set(level, known);
  return known;
}

/** How far apart two colours of one lightness are: CIEDE2000 but for its turns of hue, which cost most and say little here. */
function apart(one: Lab, other: Lab): number {
  // Not by Math.hypot, which takes several times as long.
  const c1 = Math.sqrt(one.a * one.a + one.b * one.b),
    c2 = Math.sqrt(other.a * other.a + other.b * other.b),
    a = one.a - other.a,
    b = one.b - other.b;
  const chroma = c1 - c2,
    mean = (c1 + c2) / 2;
  const hue = Math.max(0, a * a + b * b - chroma * chroma);
  const chromaOff = chroma / (1 + 0.045 * mean),
    hueScale = 1 + 0.015 * mean;
  return Math.sqrt(chromaOff * chromaOff + hue / (hueScale * hueScale));
}

/**
 * By which factor a colour is least off by what may be, as far as that is thought likely: the decision of least expected loss. What may be many things
 * is least off when it is pale, what is surely of a colour when it is as strong as that.
 *
 * @param likely of each class; they add up to 1.
 * @param luma lightness of the place, 0 to 255.
 * @returns 0 to 1.6.
 */
export function leastOff(likely: ArrayLike<number>, { cb, cr }: Chroma, luma: number): number {
  const classes = classesAt(luma);
  const offs = STRENGTHS.map((strength) => ({ lab: labOfCodes(luma, strength * cb, strength * cr), off: 0 }));
  for (let k = 0; k < classes.length; k++)
    if (likely[k] >= LEAST) for (const one of offs) one.off += likely[k] * apart(one.lab, classes[k]);
  const best = offs.reduce((at, { off }, n) => (off < offs[at].off ? n : at), 0);
  if (best === 0 || best === offs.length - 1) return STRENGTHS[best];
  // The lowest point of the parabola through the best and those beside it.
  const [before, at, after] = [offs[best - 1].off, offs[best].off, offs[best + 1].off];
  const bend = before - 2 * at + after;
  return STRENGTHS[best] + (bend > 0 ? ((before - after) / (2 * bend)) * (STRENGTHS[1] - STRENGTHS[0]) : 0);
}
