import { gauss, ramp } from './ease';
import { grown, type Vector } from './head';
import type { Identity, Look } from './person';

/** The part of the body that the clothes' picture covers, seen from the front, in units of the head. */
export const BODY = { left: -2.4, right: 2.4, top: -0.8, bottom: -7.2 };

/** Half width, half depth and middle of a body at a height. */
function section(who: Identity, look: Look, y: number): { a: number; b: number; z: number } {
  const adult = grown(look.age);
  const neck = (who.woman ? 0.39 : 0.47) * (0.78 + 0.22 * adult) + 0.02 * who.width;
  const shoulder = ((who.woman ? 1.42 : 1.64) + 0.06 * who.jaw) * (0.72 + 0.28 * adult);
  const top = -1.05 - 0.14 * adult,
    low = top - 0.95;
  const t = Math.min(1, Math.max(0, (top - y) / (top - low)));
  // The muscle from the neck slopes, then the shoulder rounds off.
  const slope = 0.8 * ramp(t, 0, 1) + 0.2 * t * (2 - t);
  const flare = 0.07 * ramp(y, top + 0.15, top - 0.05);
  const a = neck + flare + (shoulder - neck) * slope + 0.1 * ramp(-y, -low - 0.2, -low + 0.9);
  const chest = (who.woman ? 0.2 * gauss(y + 3.0, 0.5) * adult : 0.08 * gauss(y + 2.7, 0.6)) + 0.2 * ramp(-y, -low - 0.2, 3.4);
  const b = neck * 1.04 + (0.62 - neck) * ramp(-y, -top, -low + 0.3) + chest;
  return { a, b, z: -0.24 + 0.06 * ramp(-y, 1.4, 2.6) };
}

/** Above 0 where cloth lies, by how far inside its edge; below 0 bare skin. */
export function covered(look: Look, x: number, y: number): number {
  const edge = {
    suit: -1.3,
    jumper: -1.46 - 0.25 * (x / 0.5) ** 2 * -0.3,
    blouse: -1.34 - 0.5 * Math.max(0, 0.24 - Math.abs(x)),
    dress: -1.62 - 0.32 * Math.sqrt(Math.max(0, 1 - (x / 0.75) ** 2)),
    smock: -1.4,
  }[look.wear.kind];
  return edge - y;
}

/** What shows under the skin of a bare neck: the muscles from the ears to the breastbone, the larynx, the hollow under it, the collarbones. */
function neckShape(who: Identity, look: Look, x: number, y: number): number {
  const adult = grown(look.age),
    s = Math.abs(x);
  const muscle = 0.045 * adult * gauss(s - 0.09 - 0.42 * Math.max(0, y + 1.72), 0.05) * ramp(y, -1.85, -1.6);
  const larynx = (who.woman ? 0.012 : 0.05) * adult * gauss(x, 0.075) * gauss(y + 1.28, 0.085);
  const hollow = -0.06 * gauss(x, 0.075) * gauss(y + 1.76, 0.06);
  const bone = 0.04 * adult * gauss(y + 1.8 - 0.13 * s, 0.045) * ramp(s, 0.06, 0.2);
  return muscle + larynx + hollow + bone;
}

/** Points round a body and down it at full detail. */
const ROUND = 360,
  LEVELS = 340;

/**
 * The grid of the body's skin and clothes: points row by row. `height` says how high cloth lies at a place seen from the front, and `detail`, up to 1, how
 * many points there are.
 */
export function bodyPoints(
  who: Identity,
  look: Look,
  height: (x: number, y: number) => number,
  detail: number,
): { points: Vector[]; across: number; down: number } {
  const points: Vector[] = [];
  const round = Math.round(ROUND * Math.sqrt(detail)),
    levels = Math.round(LEVELS * Math.sqrt(detail));
  for (let j = 0; j <= levels; j++) {
    const y = BODY.top + (BODY.bottom - BODY.top) * (j / levels);
    const { a, b, z } = section(who, look, y);
    for (let i = 0; i <= round; i++) {
      // Seam at the back, and more points in front.
      const t = (2 * i) / round - 1,
        angle = Math.PI * (0.75 * t + 0.25 * t ** 3);
      const s = Math.sin(angle),
        c = Math.cos(angle);
      let x = a * Math.sign(s) * Math.abs(s) ** 0.86,
        out = b * Math.sign(c) * Math.abs(c) ** 0.8;
      const cloth = ramp(covered(look, x, y), 0, 0.05);
      x *= 1 + (0.035 / a) * cloth;
      out *= 1 + (0.035 / b) * cloth;
      if (c > 0) out += neckShape(who, look, x, y) * (1 - cloth);
      // The arm beside the chest, and folds that hang from the shoulder.
      const low = ramp(-y, 2.3, 3);
      if (c > 0) {
        out -= 0.16 * low * gauss(Math.abs(x) - 0.74 * a, 0.09) * cloth;
      }
      const length = Math.hypot(x / a ** 2, out / b ** 2) || 1;
      const raised = c > 0 ? height(x, y) * ramp(c, 0, 0.25) : 0;
      points.push([x + (raised * x) / a ** 2 / length, y, z + out + (raised * out) / b ** 2 / length]);
    }
  }
  return { points, across: round + 1, down: levels + 1 };
}
