import { newPlane, type Plane } from '../../picture/picture';

/**
 * Plain form of `../sharpen.ts`: a plane with a Gaussian blur of `sigma` samples partly undone: Van Cittert iteration (1931), each step adding what the
 * blurred result misses of the plane, and held within the neighbours' range widened by `slack` of it, so that edges get
 * steeper without outlines.
 *
 * @param rounds iterations; more bring back finer detail and more of the noise.
 * @param strength share of the change that is applied, 0 to 1.
 */
export function undoBlur(plane: Plane, sigma: number, rounds: number, slack: number, strength: number): Plane {
  const { width, height, data } = plane;
  const source = Float32Array.from(data);
  let guess = Float32Array.from(source);
  const taps = gaussianTaps(sigma);
  for (let n = 0; n < rounds; n++) {
    const soft = blurred(guess, width, height, taps);
    const next = new Float32Array(guess.length);
    for (let i = 0; i < next.length; i++) next[i] = guess[i] + source[i] - soft[i];
    guess = next;
  }
  const out = newPlane(width, height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      let low = source[i],
        high = low;
      for (let dy = -1; dy <= 1; dy++) {
        const row = Math.min(height - 1, Math.max(0, y + dy)) * width;
        for (let dx = -1; dx <= 1; dx++) {
          const v = source[row + Math.min(width - 1, Math.max(0, x + dx))];
          if (v < low) low = v;
          if (v > high) high = v;
        }
      }
      const room = slack * (high - low);
      const held = Math.min(high + room, Math.max(low - room, guess[i]));
      out.data[i] = Math.min(65535, Math.max(0, Math.round(source[i] + strength * (held - source[i]))));
    }
  }
  return out;
}

export function gaussianTaps(sigma: number): Float32Array {
  const reach = Math.ceil(3 * sigma);
  const taps = Float32Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * sigma * sigma)));
  const sum = taps.reduce((a, b) => a + b, 0);
  return taps.map((t) => t / sum);
}

/** Both ways, with repeated edges. */
function blurred(data: Float32Array, width: number, height: number, taps: Float32Array): Float32Array {
  const reach = (taps.length - 1) / 2;
  const across = new Float32Array(data.length),
    out = new Float32Array(data.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let t = -reach; t <= reach; t++) sum += taps[t + reach] * data[y * width + Math.min(width - 1, Math.max(0, x + t))];
      across[y * width + x] = sum;
    }
  }
  for (let y = 0; y < height; y++) {
    for (let t = -reach; t <= reach; t++) {
      const from = Math.min(height - 1, Math.max(0, y + t)) * width,
        weight = taps[t + reach];
      for (let x = 0; x < width; x++) out[y * width + x] += weight * across[from + x];
    }
  }
  return out;
}
