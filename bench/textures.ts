import { randomStream } from '../src/core/picture/random';

/** A grey texture, samples 0 to 255, sampled with wrap-around. */
export interface Texture {
  width: number;
  height: number;
  data: Float32Array;
}

/** Fractal value noise, octaves of halving size, 0 to 1. */
export function noiseField(width: number, height: number, seed: number, base = 96, octaves = 6): Float32Array {
  const out = new Float32Array(width * height);
  const random = randomStream(seed);
  let amplitude = 0.5;
  for (let octave = 0, cell = base; octave < octaves && cell >= 1.5; octave++, cell /= 2, amplitude *= 0.55) {
    const gw = Math.ceil(width / cell) + 2;
    const gh = Math.ceil(height / cell) + 2;
    const grid = Float32Array.from({ length: gw * gh }, () => random() - 0.5);
    for (let y = 0; y < height; y++) {
      const gy = Math.floor(y / cell),
        fy = smooth(y / cell - gy);
      for (let x = 0; x < width; x++) {
        const gx = Math.floor(x / cell),
          fx = smooth(x / cell - gx),
          at = gy * gw + gx;
        const top = mix(grid[at], grid[at + 1], fx),
          low = mix(grid[at + gw], grid[at + gw + 1], fx);
        out[y * width + x] += amplitude * mix(top, low, fy);
      }
    }
  }
  return out.map((v) => Math.min(1, Math.max(0, v + 0.5)));
}

const smooth = (t: number): number => t * t * (3 - 2 * t);
const mix = (a: number, b: number, t: number): number => a + (b - a) * t;

/**
 * Dead leaves: opaque discs and turned boxes whose sizes follow an inverse-cube law, which gives the edge and scale
 * statistics of photographs (Lee, Mumford and Huang, 2001), each with a faint texture of its own.
 */
export function deadLeaves(width: number, height: number, seed: number): Texture {
  const random = randomStream(seed);
  const noise = noiseField(width, height, seed + 1);
  const data = new Float32Array(width * height).map((_, i) => 90 + 70 * noise[i]);
  const count = Math.round((width * height) / 220);
  for (let n = 0; n < count; n++) {
    const size = Math.min(160, 3 / Math.sqrt(random() + 0.0004));
    const cx = random() * width,
      cy = random() * height;
    const level = 20 + 215 * random(),
      grain = 60 * random(),
      slope = (random() - 0.5) * 0.8;
    const angle = Math.PI * random(),
      round = random() < 0.5,
      aspect = 0.4 + 0.6 * random();
    const c = Math.cos(angle),
      s = Math.sin(angle);
    for (let y = Math.floor(cy - size); y <= cy + size; y++) {
      for (let x = Math.floor(cx - size); x <= cx + size; x++) {
        const u = (c * (x - cx) + s * (y - cy)) / size,
          v = (c * (y - cy) - s * (x - cx)) / (size * aspect);
        if (round ? u * u + v * v > 1 : Math.abs(u) > 0.7 || Math.abs(v) > 0.7) continue;
        const at = mod(y, height) * width + mod(x, width);
        data[at] = Math.min(250, Math.max(5, level + slope * u * size + grain * (noise[at] - 0.5)));
      }
    }
  }
  return { width, height, data };
}

const mod = (a: number, b: number): number => ((a % b) + b) % b;

/** Rows of small made-up glyphs: strokes on a plain ground, for scrolling text. */
export function glyphRows(width: number, height: number, seed: number): Texture {
  const random = randomStream(seed);
  const data = new Float32Array(width * height).fill(28);
  for (let row = 20; row + 30 < height; row += 44) {
    for (let x = 24; x + 22 < width - 24; x += 22) {
      if (random() < 0.15) continue;
      for (let stroke = 0; stroke < 3; stroke++) {
        const x0 = x + random() * 14,
          y0 = row + random() * 24,
          x1 = x + random() * 14,
          y1 = row + random() * 24;
        for (let t = 0; t <= 1; t += 0.02) {
          for (let k = 0; k < 6; k++) data[(Math.round(mix(y0, y1, t)) + (k >> 1)) * width + Math.round(mix(x0, x1, t)) + (k & 1)] = 225;
        }
      }
    }
  }
  return { width, height, data };
}

/** Thin straight lines fanning out from points, with fine text-like dots between. */
export function lineFan(width: number, height: number, seed: number): Texture {
  const random = randomStream(seed);
  const data = new Float32Array(width * height).fill(190);
  for (let n = 0; n < 90; n++) {
    const cx = random() * width,
      cy = random() * height,
      angle = random() * Math.PI,
      long = 150 + random() * 500;
    const dark = 20 + random() * 60,
      thick = 1 + Math.floor(random() * 3);
    for (let t = -long / 2; t < long / 2; t += 0.35) {
      for (let k = 0; k < thick; k++) {
        const x = Math.round(cx + t * Math.cos(angle) - k * Math.sin(angle)),
          y = Math.round(cy + t * Math.sin(angle) + k * Math.cos(angle));
        data[mod(y, height) * width + mod(x, width)] = dark;
      }
    }
  }
  return { width, height, data };
}

/** Bilinear sample with wrap-around. */
export function sample(texture: Texture, x: number, y: number): number {
  const { width, height, data } = texture;
  const xf = Math.floor(x),
    yf = Math.floor(y);
  const fx = x - xf,
    fy = y - yf;
  const x0 = mod(xf, width),
    x1 = x0 + 1 === width ? 0 : x0 + 1;
  const y0 = mod(yf, height) * width,
    y1 = (yf + 1) % height === 0 ? 0 : mod(yf + 1, height) * width;
  const top = data[y0 + x0] + (data[y0 + x1] - data[y0 + x0]) * fx;
  const low = data[y1 + x0] + (data[y1 + x1] - data[y1 + x0]) * fx;
  return top + (low - top) * fy;
}
