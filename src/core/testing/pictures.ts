import { normalStream, randomStream } from '../picture/random';
import { newPlane, type Picture, type Plane, type StreamInfo } from '../picture/picture';

/** Made-up planes and streams for tests, with known truth. */

/** A smooth pattern with slanting edges and fine texture, seen `dx`, `dy` further on. */
export function texturedPlane(width: number, height: number, dx = 0, dy = 0): Plane {
  const plane = newPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const u = x + dx,
        v = y + dy;
      const waves =
        5000 * Math.sin(u * 0.11 + 2 * Math.sin(v * 0.045)) + 3500 * Math.sin(v * 0.19 + u * 0.03) + 1800 * Math.sin(u * 0.53 - v * 0.37);
      const edge = Math.tanh((u - 0.6 * v - 20) * 0.8) * 9000;
      plane.data[y * width + x] = Math.round(30000 + waves + edge);
    }
  }
  return plane;
}

/** The plane with normally distributed noise of `sigma` 16-bit steps. */
export function noisyPlane(plane: Plane, sigma: number, seed: number): Plane {
  const normal = normalStream(seed);
  return { ...plane, data: plane.data.map((v) => Math.min(65535, Math.max(0, Math.round(v + sigma * normal())))) };
}

export function randomPlane(width: number, height: number, seed: number): Plane {
  const random = randomStream(seed);
  const plane = newPlane(width, height);
  plane.data.forEach((_, i) => (plane.data[i] = Math.floor(random() * 65536)));
  return plane;
}

/** log2 of the pixels and lines that share a chroma sample, in every way there is: 4:4:4, 4:2:2, 4:2:0, 4:4:0, 4:1:1, 4:1:0. */
export const CHROMA_SHIFTS: [number, number][] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
  [2, 0],
  [2, 2],
];

/** 4:2:0 SD video of 25 frames unless told otherwise. */
export function streamInfo(part: Partial<StreamInfo> = {}): StreamInfo {
  return {
    width: 64,
    height: 48,
    pixelAspect: { num: 1, den: 1 },
    chromaShiftX: 1,
    chromaShiftY: 1,
    planes: 3,
    depth: 8,
    colour: { matrix: 'bt601', range: 'limited', transfer: 'video', primaries: 'smpte170m' },
    fieldOrder: 'progressive',
    frames: 25,
    rate: { num: 25, den: 1 },
    ...part,
  };
}

/** A textured picture of a stream, seen further on with every frame. */
export function picture(info: StreamInfo, n = 0): Picture {
  const cw = (info.width + (1 << info.chromaShiftX) - 1) >> info.chromaShiftX,
    ch = (info.height + (1 << info.chromaShiftY) - 1) >> info.chromaShiftY;
  const chroma = (k: number): Plane => ({
    width: cw,
    height: ch,
    data: texturedPlane(cw, ch, n + k * 40, k * 9).data.map((v) => 26000 + v / 5),
  });
  return {
    info,
    region: { x: 0, y: 0, width: info.width, height: info.height },
    planes:
      info.planes === 3
        ? [texturedPlane(info.width, info.height, 2 * n, n), chroma(1), chroma(2)]
        : [texturedPlane(info.width, info.height, 2 * n, n)],
  };
}

/** The plane as a block codec leaves it: orthonormal 8 x 8 cosine transforms, quantised with one step in codes of 255. */
export function blockCoded(plane: Plane, step: number): Plane {
  const out = newPlane(plane.width, plane.height);
  const basis = Array.from({ length: 8 }, (_, k) =>
    Array.from({ length: 8 }, (__, n) => Math.sqrt(k ? 0.25 : 0.125) * Math.cos(((2 * n + 1) * k * Math.PI) / 16)),
  );
  const unit = step * 256;
  for (let y = 0; y + 8 <= plane.height; y += 8) {
    for (let x = 0; x + 8 <= plane.width; x += 8) {
      const block = Array.from({ length: 64 }, (_, i) => plane.data[(y + (i >> 3)) * plane.width + x + (i & 7)]);
      const coded = transform(block, (k, n) => basis[k][n]).map((c) => Math.round(c / unit) * unit);
      transform(coded, (n, k) => basis[k][n]).forEach((v, i) => {
        out.data[(y + (i >> 3)) * plane.width + x + (i & 7)] = Math.min(65535, Math.max(0, Math.round(v)));
      });
    }
  }
  return out;
}

/** Both ways through an 8 x 8 matrix. */
function transform(block: number[], at: (row: number, column: number) => number): number[] {
  const once = (from: number[]): number[] =>
    Array.from({ length: 64 }, (_, i) => {
      const row = i >> 3,
        column = i & 7;
      let sum = 0;
      for (let n = 0; n < 8; n++) sum += at(row, n) * from[n * 8 + column];
      return sum;
    });
  const turned = (from: number[]): number[] => from.map((_, i) => from[(i & 7) * 8 + (i >> 3)]);
  return turned(once(turned(once(block))));
}
