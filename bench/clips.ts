import { newPlane, type Plane } from '../src/core/picture/picture';
import { deadLeaves, glyphRows, lineFan, sample, type Texture } from './textures';
import { combShades, type Shade } from './walkers';

/** A clip with known truth: full frames at field rate, luma only, limited range 16-bit codes. */
export interface Clip {
  name: string;
  frames: Plane[];
}

/** Draws frames with 2 x 2 samples a pixel, each bilinear on a texture drawn finer than the frame. */
function draw(name: string, width: number, height: number, count: number, shade: Shade): Clip {
  const frames = Array.from({ length: count }, (_, t) => {
    const plane = newPlane(width, height);
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const v = shade(x + 0.25, y + 0.25, t) + shade(x + 0.75, y + 0.25, t) + shade(x + 0.25, y + 0.75, t) + shade(x + 0.75, y + 0.75, t);
        plane.data[y * width + x] = Math.round(16 + (v / 4) * (219 / 255)) << 8;
      }
    }
    return plane;
  });
  return { name, frames };
}

/** Moves the sampling point of a still texture: scale and turn about the frame's middle, then shift. */
function moving(
  texture: Texture,
  width: number,
  height: number,
  path: (t: number) => { dx: number; dy: number; zoom: number; turn: number },
): Shade {
  let last = -1,
    c = 1,
    s = 0,
    ox = 0,
    oy = 0;
  return (x, y, t) => {
    if (t !== last) {
      const p = path(t);
      last = t;
      c = (Math.cos(p.turn) / p.zoom) * 1.6;
      s = (Math.sin(p.turn) / p.zoom) * 1.6;
      ox = 600 + p.dx * 1.6;
      oy = 500 + p.dy * 1.6;
    }
    const u = x - width / 2,
      v = y - height / 2;
    return sample(texture, ox + c * u - s * v, oy + s * u + c * v);
  };
}

/** The deinterlacing clips at `width` x `height`, `count` frames each; or the one of that name. */
export function benchClips(width: number, height: number, count: number, only?: string): Clip[] {
  const leaves = deadLeaves(1400, 1100, 11);
  const other = deadLeaves(900, 900, 23);
  const text = glyphRows(1300, 2200, 5);
  const fan = lineFan(1400, 1100, 9);
  const still = moving(leaves, width, height, () => ({ dx: 0, dy: 0, zoom: 1, turn: 0 }));
  const slow = moving(other, width, height, (t) => ({ dx: 0.35 * t, dy: 0.1 * t, zoom: 1, turn: 0 }));
  const pan = moving(leaves, width, height, (t) => ({ dx: 2.3 * t, dy: 0.4 * t, zoom: 1, turn: 0 }));
  const fast = moving(other, width, height, (t) => ({ dx: -5.7 * t, dy: 1.6 * Math.sin(t / 5) * 4, zoom: 1, turn: 0 }));
  const zoom = moving(leaves, width, height, (t) => ({ dx: 0, dy: 0, zoom: 1 + 0.006 * t, turn: 0 }));
  const turn = moving(other, width, height, (t) => ({ dx: 0, dy: 0, zoom: 1, turn: 0.007 * t }));
  const lines = moving(fan, width, height, (t) => ({ dx: 0.8 * t, dy: 0, zoom: 1, turn: 0.004 * t }));
  const scroll = moving(text, width, height, (t) => ({ dx: 0, dy: 1.37 * t, zoom: 1, turn: 0 }));
  const ticker = moving(text, width, height, (t) => ({ dx: 3.1 * t, dy: 0, zoom: 1, turn: 0 }));
  const inDisc = (x: number, y: number, t: number): number => {
    const d = Math.hypot(x - width * (0.3 + 0.2 * Math.sin(t / 14)) - 1.9 * t, (y - height * 0.5 - 30 * Math.sin(t / 9)) * 1.2);
    return Math.min(1, Math.max(0, (height * 0.28 - d) / 2.5));
  };
  const shades: Record<string, Shade> = {
    pan,
    'fast pan': fast,
    zoom,
    rotation: turn,
    foreground: (x, y, t) => {
      const a = inDisc(x, y, t);
      return a === 0 ? slow(x, y, t) : a * pan(x, y, t) + (1 - a) * slow(x, y, t);
    },
    'thin diagonals': lines,
    'scrolling text': (x, y, t) => (y < height * 0.8 ? scroll(x, y, t) : ticker(x, y, t)),
    'still detail': (x, y, t) =>
      x > width * 0.6 && x < width * 0.8 && y > height * 0.3 && y < height * 0.6 ? pan(x, y, t) : still(x, y, t),
  };
  return Object.entries(shades)
    .filter(([name]) => only === undefined || name === only)
    .map(([name, shade]) => draw(name, width, height, count, shade));
}

/** Clips of what makes combs, at `width` x `height`, `count` frames each. */
export const combClips = (width: number, height: number, count: number): Clip[] =>
  Object.entries(combShades(width, height)).map(([name, shade]) => draw(name, width, height, count, shade));

/** Interlaces full frames at field rate: frame n takes its first field from 2n and its second from 2n + 1. */
export function interlace(frames: Plane[], topFirst: boolean): Plane[] {
  const out: Plane[] = [];
  for (let n = 0; n + 1 < frames.length; n += 2) {
    const first = frames[n],
      second = frames[n + 1];
    const plane = newPlane(first.width, first.height);
    for (let y = 0; y < plane.height; y++) {
      const from = (y % 2 === 0) === topFirst ? first : second;
      plane.data.set(from.data.subarray(y * plane.width, (y + 1) * plane.width), y * plane.width);
    }
    out.push(plane);
  }
  return out;
}
