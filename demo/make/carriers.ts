/** Damage that prints, slides and clippings have, on pictures of 0 to 255. Each function changes the picture it is given. */
import sharp from 'sharp';
import { normalStream, randomStream } from '../../src/core';
import { luma } from './faults';
import { blank, bytesOf, type Raster } from './raster';

type Rgb = [number, number, number];

const smooth = (v: number, from: number, to: number): number => {
  const t = Math.min(1, Math.max(0, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
};

/** Calls `change(offset, x, y)` for every pixel. */
export function each(picture: Raster, change: (o: number, x: number, y: number) => void): void {
  for (let y = 0, o = 0; y < picture.height; y++) for (let x = 0; x < picture.width; x++, o += 4) change(o, x, y);
}

/** Mixes a colour into a pixel. */
function mix({ data }: Raster, o: number, colour: Rgb, share: number): void {
  for (let c = 0; c < 3; c++) data[o + c] += (colour[c] - data[o + c]) * share;
}

/** Smooth value noise about 0, within -1 to 1; `cell` pixels from one value to the next. */
export function clouds(seed: number, cell: number): (x: number, y: number) => number {
  const random = randomStream(seed);
  const side = 64;
  const grid = Float32Array.from({ length: side * side }, () => random() * 2 - 1);
  const at = (i: number, j: number): number => grid[(((j % side) + side) % side) * side + (((i % side) + side) % side)];
  return (x, y) => {
    const gx = x / cell,
      gy = y / cell,
      i = Math.floor(gx),
      j = Math.floor(gy);
    const u = smooth(gx - i, 0, 1),
      v = smooth(gy - j, 0, 1);
    return (at(i, j) * (1 - u) + at(i + 1, j) * u) * (1 - v) + (at(i, j + 1) * (1 - u) + at(i + 1, j + 1) * u) * v;
  };
}

/** Without colour: black, middle and white become these. */
export function toned(picture: Raster, black: Rgb, middle: Rgb, white: Rgb): void {
  each(picture, (o) => {
    const t = Math.min(1, Math.max(0, luma(picture.data, o) / 255));
    for (let c = 0; c < 3; c++)
      picture.data[o + c] = t < 0.5 ? black[c] + (middle[c] - black[c]) * 2 * t : middle[c] + (white[c] - middle[c]) * (2 * t - 1);
  });
}

/** A Gaussian blur of `sigma` pixels, mixed in by `share`: 1 is out of focus, less a soft lens that glows. */
export async function softened(picture: Raster, sigma: number, share = 1): Promise<void> {
  const raw = { width: picture.width, height: picture.height, channels: 3 as const };
  const soft = await sharp(bytesOf(picture), { raw }).blur(sigma).raw().toBuffer();
  for (let i = 0, o = 0; i < soft.length; i += 3, o += 4)
    for (let c = 0; c < 3; c++) picture.data[o + c] += (soft[i + c] - picture.data[o + c]) * share;
}

/** Light that falls off to the corners; `strength` of it is lost there. */
export function vignette(picture: Raster, strength: number): void {
  const { width, height, data } = picture;
  each(picture, (o, x, y) => {
    const r2 = ((x / width - 0.5) ** 2 + (y / height - 0.5) ** 2) * 2;
    for (let c = 0; c < 3; c++) data[o + c] *= 1 - strength * r2;
  });
}

/** Silver that came to the surface: a bluish sheen over the dark parts towards the edges. */
export function silverMirror(picture: Raster, seed: number, reach: number): void {
  const { width, height, data } = picture;
  const wide = clouds(seed, 90),
    fine = clouds(seed + 1, 17);
  each(picture, (o, x, y) => {
    const edge = Math.min(x, y, width - 1 - x, height - 1 - y);
    const near = 1 - smooth(edge + 26 * wide(x, y) + 7 * fine(x, y), 0, reach);
    const dark = 1 - smooth(luma(data, o), 40, 190);
    mix(picture, o, [150, 160, 178], 0.62 * near * (0.25 + 0.75 * dark));
  });
}

/** A line of `width` pixels drawn softly along points, mixed in by `share`. */
function stroke(picture: Raster, points: [number, number][], width: number, colour: Rgb, share: number): void {
  for (const [n, [x1, y1]] of points.entries()) {
    const [x0, y0] = points[Math.max(0, n - 1)];
    const left = Math.floor(Math.min(x0, x1) - width - 1),
      right = Math.ceil(Math.max(x0, x1) + width + 1);
    const top = Math.floor(Math.min(y0, y1) - width - 1),
      bottom = Math.ceil(Math.max(y0, y1) + width + 1);
    const dx = x1 - x0,
      dy = y1 - y0,
      length2 = dx * dx + dy * dy || 1;
    for (let y = Math.max(0, top); y <= Math.min(picture.height - 1, bottom); y++) {
      for (let x = Math.max(0, left); x <= Math.min(picture.width - 1, right); x++) {
        const t = Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / length2));
        const d = Math.hypot(x - x0 - t * dx, y - y0 - t * dy);
        const cover = Math.min(1, Math.max(0, width / 2 + 0.5 - d));
        if (cover > 0) mix(picture, (y * picture.width + x) * 4, colour, cover * share);
      }
    }
  }
}

/** Points of a line that wanders: `bend` radians a step at most. */
function wander(random: () => number, x: number, y: number, turn: number, steps: number, step: number, bend: number): [number, number][] {
  const points: [number, number][] = [[x, y]];
  let curl = 0;
  for (let n = 0; n < steps; n++) {
    curl = 0.85 * curl + (random() - 0.5) * bend;
    turn += curl;
    x += Math.cos(turn) * step;
    y += Math.sin(turn) * step;
    points.push([x, y]);
  }
  return points;
}

/** Cracks of the emulsion with branches: the pale base with a dark rim. */
export function cracks(picture: Raster, seed: number, count: number): void {
  const random = randomStream(seed);
  const crack = (x: number, y: number, turn: number, steps: number, width: number): void => {
    const points = wander(random, x, y, turn, steps, 11, 0.2);
    stroke(
      picture,
      points.map(([u, v]) => [u + 1.2, v + 1.2]),
      width,
      [58, 46, 36],
      0.6,
    );
    stroke(picture, points, width, [232, 220, 196], 0.85);
    if (steps > 12)
      for (let k = 0; k < 3; k++) {
        const [u, v] = points[Math.floor(random() * points.length)];
        crack(u, v, turn + (random() < 0.5 ? 1 : -1) * (0.6 + 0.6 * random()), Math.floor(steps * 0.35), width * 0.7);
      }
  };
  for (let k = 0; k < count; k++) {
    // From an edge or corner inwards.
    const side = Math.floor(random() * 4),
      along = random();
    const x = side < 2 ? along * picture.width : side === 2 ? 0 : picture.width;
    const y = side < 2 ? (side === 0 ? 0 : picture.height) : along * picture.height;
    crack(x, y, Math.atan2(picture.height / 2 - y, picture.width / 2 - x) + random() - 0.5, 10 + Math.floor(random() * 26), 1.1 + random());
  }
}

/** A fold across the print: broken emulsion, and the paper bent beside it. */
export function fold(picture: Raster, seed: number, from: [number, number], to: [number, number]): void {
  const random = randomStream(seed);
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const normal = [-(to[1] - from[1]) / length, (to[0] - from[0]) / length];
  each(picture, (o, x, y) => {
    const d = (x - from[0]) * normal[0] + (y - from[1]) * normal[1];
    const bent = d > 0 ? Math.exp(-d / 16) * 0.1 : -Math.exp(d / 12) * 0.13;
    for (let c = 0; c < 3; c++) picture.data[o + c] *= 1 + bent;
  });
  let side = 0;
  for (let s = 0; s < length; s += 1.4) {
    side = 0.9 * side + (random() - 0.5) * 0.9;
    const x = from[0] + ((to[0] - from[0]) * s) / length + normal[0] * side,
      y = from[1] + ((to[1] - from[1]) * s) / length + normal[1] * side;
    if (random() < 0.82) stroke(picture, [[x, y]], 1 + 3.2 * random() ** 2, [236, 230, 216], 0.55 + 0.45 * random());
  }
}

/** Specks of dust, of both kinds: pale ones on the print, dark ones on the negative or the glass. */
export function dust(picture: Raster, seed: number, count: number, pale: Rgb, dark: Rgb, paleShare = 0.7): void {
  const random = randomStream(seed);
  for (let k = 0; k < count; k++) {
    const x = random() * picture.width,
      y = random() * picture.height,
      size = 0.8 + 3.2 * random() ** 4;
    const points = wander(random, x, y, random() * 6.3, 1 + Math.floor(random() * 3), size * 0.8, 2);
    stroke(picture, points, size, random() < paleShare ? pale : dark, 0.5 + 0.5 * random());
  }
}

/** Hairs and fibres that curl. */
export function hairs(picture: Raster, seed: number, count: number, colour: Rgb, width: number): void {
  const random = randomStream(seed);
  for (let k = 0; k < count; k++) {
    const steps = 18 + Math.floor(random() * 40);
    const points = wander(random, random() * picture.width, random() * picture.height, random() * 6.3, steps, 3.2, 0.35);
    stroke(picture, points, width * (0.7 + 0.6 * random()), colour, 0.75 + 0.2 * random());
  }
}

/** Scratches: nearly straight, thin, with gaps. */
export function scratches(picture: Raster, seed: number, count: number, colour: Rgb): void {
  const random = randomStream(seed);
  for (let k = 0; k < count; k++) {
    const steps = 10 + Math.floor(random() * 40);
    const points = wander(random, random() * picture.width, random() * picture.height, random() * 6.3, steps, 8, 0.02);
    for (let n = 1; n < points.length; n++)
      if (random() < 0.85) stroke(picture, [points[n - 1], points[n]], 0.6 + 0.6 * random(), colour, 0.8);
  }
}

/** Fading that is not the same everywhere: towards `colour`, from `least` to `most`. */
export function unevenFading(picture: Raster, seed: number, colour: Rgb, least: number, most: number): void {
  const field = clouds(seed, picture.width / 2.2);
  each(picture, (o, x, y) => mix(picture, o, colour, least + (most - least) * (0.5 + 0.5 * field(x, y))));
}

/** Dyes of a colour print that went: density of cyan, magenta and yellow that is left, 0 to 1, and the stain of its whites. */
export function fadedDyes(picture: Raster, left: Rgb, stain: Rgb): void {
  each(picture, (o) => {
    for (let c = 0; c < 3; c++) {
      const density = -Math.log10(Math.max(4, picture.data[o + c]) / 255);
      picture.data[o + c] = stain[c] * 10 ** (-density * left[c]);
    }
  });
}

/** The raised pattern of silk paper under a light from above left. */
export function silkPaper(picture: Raster, period: number, strength: number): void {
  const wobble = clouds(5, 60);
  each(picture, (o, x, y) => {
    const u = ((x + y) / period + 0.4 * wobble(x, y)) * Math.PI * 2,
      v = ((x - y) / period + 0.4 * wobble(y + 400, x)) * Math.PI * 2;
    const relief = Math.cos(u) * 0.5 + Math.cos(v) * 0.5 + 0.5 * Math.cos(u) * Math.cos(v);
    for (let c = 0; c < 3; c++) picture.data[o + c] += strength * relief;
  });
}

/** Printed dots: the tone as round dots of ink at an angle, `period` pixels apart, on paper. */
export function halftone(picture: Raster, degrees: number, period: number, ink: Rgb, paper: Rgb): void {
  const a = (degrees * Math.PI) / 180,
    c = Math.cos(a),
    s = Math.sin(a);
  const spread = clouds(9, 3);
  const tone = Float32Array.from({ length: picture.width * picture.height }, (_, i) => luma(picture.data, 4 * i) / 255);
  each(picture, (o, x, y) => {
    const u = ((x * c + y * s) / period) * 2 * Math.PI,
      v = ((y * c - x * s) / period) * 2 * Math.PI;
    // The threshold of a spot that grows from black dots through a chequer to white holes.
    const spot = 0.5 + 0.25 * (Math.cos(u) + Math.cos(v)) + 0.05 * spread(x, y);
    const inked = smooth(spot - (0.06 + 0.9 * tone[o / 4]), -0.09, 0.09);
    for (let k = 0; k < 3; k++) picture.data[o + k] = paper[k] + (ink[k] - paper[k]) * inked;
  });
}

/** A cast, and shadows that lose what they held: gains of the light, then everything below `black` is black. */
export function slideFilm(picture: Raster, gains: Rgb, contrast: number): void {
  each(picture, (o) => {
    for (let c = 0; c < 3; c++) {
      const v = Math.min(1, Math.max(0, (picture.data[o + c] * gains[c]) / 255));
      picture.data[o + c] = 255 * (v ** contrast * (1 - 0.06) + 0.012);
    }
  });
}

/** A light's reflection: a soft patch with a hard side where the lamp ends. */
export function glare(picture: Raster, x: number, y: number, radius: number, strength: number): void {
  each(picture, (o, px, py) => {
    const d = Math.hypot((px - x) / radius, (py - y) / (0.55 * radius));
    const light = strength * Math.exp(-d * d) + 0.35 * strength * Math.exp(-d * 0.8);
    for (let c = 0; c < 3; c++) picture.data[o + c] += light * (255 - 0.6 * picture.data[o + c]);
  });
}

/** Noise of a scanner or a small sensor, before its codec. */
export function sensorNoise(picture: Raster, seed: number, luma: number, chroma: number): void {
  const normal = normalStream(seed);
  each(picture, (o) => {
    const l = luma * normal();
    for (let c = 0; c < 3; c++) picture.data[o + c] += l + chroma * normal();
  });
}

/**
 * A flat picture as a camera sees it: its corners, clockwise from the top left, come to lie at `corners` of a new picture whose
 * ground is `ground`. Bilinear, four samples a pixel.
 */
export function laidDown(picture: Raster, corners: [number, number][], ground: Raster, shadow = 14): Raster {
  const out: Raster = { ...ground, data: ground.data.slice() };
  const inverse = toSquare(corners);
  const covers = (x: number, y: number): [number, number] | undefined => {
    const [u, v] = inverse(x, y);
    return u >= 0 && u <= 1 && v >= 0 && v <= 1 ? [u, v] : undefined;
  };
  each(out, (o, x, y) => {
    // Shadow of a print that lies a little off its ground.
    let shade = 0;
    for (let k = 1; k <= 4; k++) if (covers(x - (k * shadow) / 4, y - (k * shadow) / 5)) shade += 0.11;
    for (let c = 0; c < 3; c++) out.data[o + c] *= 1 - shade;
    const sum = [0, 0, 0];
    let hit = 0;
    for (let k = 0; k < 4; k++) {
      const at = covers(x + ((k & 1) + 0.5) / 2 - 0.5, y + ((k >> 1) + 0.5) / 2 - 0.5);
      if (!at) continue;
      hit++;
      bilinear(picture, at[0] * picture.width - 0.5, at[1] * picture.height - 0.5, sum);
    }
    if (hit) for (let c = 0; c < 3; c++) out.data[o + c] += (sum[c] / hit - out.data[o + c]) * (hit / 4);
  });
  return out;
}

function bilinear({ data, width, height }: Raster, x: number, y: number, sum: number[]): void {
  const i = Math.floor(x),
    j = Math.floor(y);
  for (let k = 0; k < 4; k++) {
    const px = Math.min(width - 1, Math.max(0, i + (k & 1))),
      py = Math.min(height - 1, Math.max(0, j + (k >> 1)));
    const weight = (k & 1 ? x - i : 1 - x + i) * (k >> 1 ? y - j : 1 - y + j);
    for (let c = 0; c < 3; c++) sum[c] += weight * data[(py * width + px) * 4 + c];
  }
}

/** The projective map from a quadrilateral to the unit square (Heckbert, 1989). */
export function toSquare([p, q, r, s]: [number, number][]): (x: number, y: number) => [number, number] {
  const dx1 = q[0] - r[0],
    dx2 = s[0] - r[0],
    sx = p[0] - q[0] + r[0] - s[0];
  const dy1 = q[1] - r[1],
    dy2 = s[1] - r[1],
    sy = p[1] - q[1] + r[1] - s[1];
  const den = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / den,
    h = (dx1 * sy - sx * dy1) / den;
  const a = q[0] - p[0] + g * q[0],
    b = s[0] - p[0] + h * s[0],
    d = q[1] - p[1] + g * q[1],
    e = s[1] - p[1] + h * s[1];
  return (x, y) => {
    // x = (a u + b v + p0) / (g u + h v + 1), solved for u and v.
    const m = a - g * x,
      n = b - h * x,
      k = x - p[0],
      m2 = d - g * y,
      n2 = e - h * y,
      k2 = y - p[1];
    const determinant = m * n2 - n * m2;
    return [(k * n2 - n * k2) / determinant, (m * k2 - k * m2) / determinant];
  };
}

/** An even ground with the faint grain of its material. */
export function ground(width: number, height: number, seed: number, colour: Rgb, grain: number, cell: [number, number]): Raster {
  const out = blank(width, height);
  const field = clouds(seed, 1),
    wide = clouds(seed + 1, 1);
  each(out, (o, x, y) => {
    const v = 1 + grain * (0.7 * field(x / cell[0], y / cell[1]) + 0.3 * wide(x / (9 * cell[0]), y / (9 * cell[1])));
    for (let c = 0; c < 3; c++) out.data[o + c] = colour[c] * v;
    out.data[o + 3] = 255;
  });
  return out;
}
