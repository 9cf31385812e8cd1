import { deadLeaves, glyphRows, noiseField, sample } from './textures';

/** Lightness 0 to 255 at a place and a moment, in pixels and fields. */
export type Shade = (x: number, y: number, t: number) => number;

/** How far a point lies from a line between two points. */
function distance(x: number, y: number, x0: number, y0: number, x1: number, y1: number): number {
  const dx = x1 - x0,
    dy = y1 - y0;
  const along = Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / (dx * dx + dy * dy + 1e-9)));
  return Math.hypot(x - x0 - along * dx, y - y0 - along * dy);
}

/** A limb: its ends, half its thickness, its lightness. */
type Limb = [x0: number, y0: number, x1: number, y1: number, radius: number, shade: number];

/** A figure that walks: where its hips are, its size in pixels, where its step is, and which way it goes. */
function limbsOf(hipX: number, hipY: number, size: number, step: number, way: number, dark: number): Limb[] {
  const limbs: Limb[] = [];
  const swing = 0.55 * Math.sin(step);
  for (const [side, shade] of [
    [1, dark],
    [-1, dark + 25],
  ]) {
    const a = side * swing;
    const kneeX = hipX + Math.sin(a) * size * 0.24,
      kneeY = hipY + Math.cos(a) * size * 0.24;
    const lower = a - way * 0.45 * Math.max(0, Math.sin(step * side + 1));
    limbs.push([hipX, hipY, kneeX, kneeY, size * 0.045, shade]);
    limbs.push([kneeX, kneeY, kneeX + Math.sin(lower) * size * 0.25, kneeY + Math.cos(lower) * size * 0.25, size * 0.035, shade]);
    const shoulder = hipY - size * 0.32;
    const elbowX = hipX - Math.sin(a) * size * 0.15,
      elbowY = shoulder + Math.cos(a) * size * 0.16;
    limbs.push([hipX, shoulder, elbowX, elbowY, size * 0.028, shade + 60]);
    limbs.push([elbowX, elbowY, elbowX + (way * 0.5 - Math.sin(a)) * size * 0.12, elbowY + size * 0.12, size * 0.024, 190]);
  }
  limbs.push([hipX, hipY - size * 0.02, hipX, hipY - size * 0.3, size * 0.075, 120]);
  limbs.push([hipX, hipY - size * 0.44, hipX, hipY - size * 0.46, size * 0.06, 200]);
  return limbs;
}

/** Figures before a ground; the nearest limb in the list hides the rest. */
function before(ground: Shade, at: (t: number) => Limb[]): Shade {
  let last = -1,
    limbs: Limb[] = [];
  return (x, y, t) => {
    if (t !== last) [last, limbs] = [t, at(t)];
    let v = ground(x, y, t);
    for (const [x0, y0, x1, y1, radius, shade] of limbs) {
      if (x < Math.min(x0, x1) - radius - 2 || x > Math.max(x0, x1) + radius + 2) continue;
      const cover = Math.min(1, Math.max(0, radius - distance(x, y, x0, y0, x1, y1) + 0.5));
      v += cover * (shade - v);
    }
    return v;
  };
}

/** What makes combs on real tapes: limbs, tickers, spokes, fences and thin things before still or flat ground. */
export function combShades(width: number, height: number): Record<string, Shade> {
  const leaves = deadLeaves(1400, 1100, 31);
  const paving = noiseField(1024, 1024, 7, 24, 5);
  const text = glyphRows(1600, 200, 15);
  const still: Shade = (x, y) => sample(leaves, 500 + 1.3 * x, 300 + 1.3 * y);
  const street: Shade = (x, y) => 110 + 90 * sample({ width: 1024, height: 1024, data: paving }, x, y) + (y > height * 0.55 ? 20 : 0);
  const sky: Shade = (_, y) => 205 - (60 * y) / height;
  const walkers = (speeds: number[]): ((t: number) => Limb[]) => {
    return (t) =>
      speeds.flatMap((speed, n) => {
        const size = height * (0.42 + 0.13 * (n % 3));
        const x = width * ((n + 0.5) / speeds.length) + speed * t;
        return limbsOf(x, height * 0.52 + 9 * n, size, 0.16 * t * (1 + 0.2 * n) + n, Math.sign(speed), 25 + 12 * n);
      });
  };
  return {
    'walking, street': before(street, walkers([1.6, -2.1, 2.6, -1.3, 3.4])),
    'walking, hedge': before(still, walkers([-1.2, 2.4, -3.1, 1.8])),
    ticker: (x, y, t) =>
      y < height * 0.8 ? still(x, y, t) : y < height * 0.82 ? 40 : sample(text, 200 + 1.5 * (x + 2 * t), 8 + 1.5 * (y - height * 0.82)),
    wheels: (x, y, t) => {
      for (let n = 0; n < 3; n++) {
        const cx = width * (0.2 + 0.3 * n),
          cy = height * (0.45 + 0.1 * (n % 2)),
          radius = height * (0.28 - 0.04 * n);
        const r = Math.hypot(x - cx, y - cy);
        if (r > radius + 1) continue;
        if (r > radius * 0.9) return 35;
        if (r < radius * 0.12) return 60;
        const turn = Math.atan2(y - cy, x - cx) + (0.035 + 0.02 * n) * t;
        const spokes = 8 + 4 * n,
          off = Math.abs(((((turn * spokes) / (2 * Math.PI)) % 1) + 1.5) % 1) - 0.5;
        const cover = Math.min(1, Math.max(0, 2.2 - (Math.abs(off) * 2 * Math.PI * r) / spokes));
        return 180 * cover + (1 - cover) * street(x, y, t);
      }
      return street(x, y, t);
    },
    fence: (x, y, t) => {
      const u = x + 3.3 * t,
        post = Math.abs((((u % 26) + 26) % 26) - 13);
      const cover = y > height * 0.25 && y < height * 0.9 ? Math.min(1, Math.max(0, 6.5 - post)) : 0;
      const rail = Math.abs(y - height * 0.4) < 4 || Math.abs(y - height * 0.75) < 4 ? 1 : 0;
      const a = Math.max(cover, rail);
      return a * 225 + (1 - a) * sample(leaves, 300 + 1.3 * (x + 0.6 * t), 200 + 1.3 * y);
    },
    'thin things': (x, y, t) => {
      let v = sky(x, y, t);
      for (let n = 0; n < 14; n++) {
        const tilt = (n - 7) * 0.12;
        const at = ((((n * 97 + (n % 2 ? 4.3 : -3.1) * t + tilt * y) % width) + width) % width) - x;
        const cover = Math.min(1, Math.max(0, 1.4 - Math.abs(at)));
        v += cover * ((n % 3 ? 30 : 245) - v);
      }
      const wire = Math.abs(y - height * 0.3 - 18 * Math.sin(x / 140) - 0.9 * t);
      return v + Math.min(1, Math.max(0, 1.2 - wire)) * (40 - v);
    },
  };
}
