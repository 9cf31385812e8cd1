import { gauss, ramp } from './ease';
import { skull, type Vector } from './head';
import type { Identity, Look } from './person';
import { gridSolid, type Solid } from './solid';

const ROUND = 64,
  RINGS = 30;
/** Height of its middle. */
const MIDDLE = -0.13;

/** How far an ear stands out at a share of the way from its hollow to its edge, at an angle: 0 to the front, a quarter turn up. */
function height(t: number, angle: number): number {
  const back = ramp(-Math.cos(angle), -0.75, 0.1),
    lobe = ramp(-Math.sin(angle), 0.62, 0.95),
    upper = ramp(Math.sin(angle), -0.2, 0.5);
  const folded = (1 - lobe) * Math.max(back, upper);
  const hollow = -0.075 * gauss(t, 0.3) * (1 - 0.5 * lobe);
  const ridge = 0.03 * folded * gauss(t - 0.58, 0.09) + 0.018 * upper * gauss(t - 0.45, 0.07) * gauss(angle - 1.1, 0.25);
  const groove = -0.02 * folded * gauss(t - 0.8, 0.07);
  const rim = 0.028 * (0.25 + 0.75 * folded) * gauss(t - 0.93, 0.06);
  // The gristle before the hollow.
  const guard = 0.05 * gauss(t - 0.62, 0.16) * gauss(Math.atan2(Math.sin(angle + 0.15), Math.cos(angle + 0.15)), 0.3);
  return 0.02 + hollow + ridge + groove + rim + guard + 0.012 * lobe * gauss(t - 0.6, 0.3);
}

/** An ear in the head's space; `side` is 1 for the person's left. */
export function ear(who: Identity, look: Look, side: 1 | -1): Solid {
  const out = (24 + 9 * who.ears) * (Math.PI / 180),
    back = 0.17;
  const size = 1.1 + 0.06 * who.ears + (look.age > 50 ? 0.05 : 0);
  const forward: Vector = [-Math.sin(out), 0, Math.cos(out)],
    normal: Vector = [Math.cos(out), 0, Math.sin(out)];
  // It follows the head, which grows narrower towards the jaw.
  const root = (y: number): number => {
    const length = Math.hypot(0.85, y, 0.06);
    const d: Vector = [0.85 / length, y / length, -0.06 / length];
    return skull(who, look, d) * d[0];
  };
  const points: Vector[] = [];
  for (let j = 0; j <= RINGS; j++) {
    // Beyond its edge it turns back to the head.
    const t = (1.3 * j) / RINGS;
    for (let i = 0; i <= ROUND; i++) {
      const angle = (2 * Math.PI * i) / ROUND;
      const c = Math.cos(angle),
        s = Math.sin(angle);
      const wide = (c < 0 ? 0.165 : 0.085) * (1 + 0.28 * s - 0.12 * s * s),
        high = s > 0 ? 0.25 : 0.275;
      const over = Math.max(0, t - 1) / 0.3;
      const reach = Math.min(1, t) - 0.3 * over ** 1.6;
      const u = size * reach * wide * c,
        v = size * reach * high * s;
      const w = height(Math.min(1, t), angle) - (0.03 + 0.05 * ramp(-c, -0.4, 0.6)) * Math.sqrt(over);
      const f = u * Math.cos(back) - v * Math.sin(back),
        up = v * Math.cos(back) + u * Math.sin(back);
      const y = MIDDLE + up;
      points.push([side * (root(y) - 0.02 + (f - 0.085) * forward[0] + w * normal[0]), y, -0.1 + f * forward[2] + w * normal[2]]);
    }
  }
  return gridSolid(points, ROUND + 1, RINGS + 1);
}
