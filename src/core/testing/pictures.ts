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
