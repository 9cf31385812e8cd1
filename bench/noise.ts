import { randomStream } from '../src/core/picture/random';

/** Normal numbers of a seed (Box and Muller, 1958). */
export class Random {
  private readonly next: () => number;

  constructor(seed: number) {
    this.next = randomStream(seed);
  }

  normal(): number {
    return Math.sqrt(-2 * Math.log(1 - this.next())) * Math.cos(2 * Math.PI * this.next());
  }
}

/** Noise of deviation 1 whose grains have a radius of `size` pixels. */
export function noiseField(width: number, height: number, size: number, random: Random): Float32Array {
  const white = Float32Array.from({ length: width * height }, () => random.normal());
  if (size === 0) return white;
  const reach = Math.ceil(3 * size);
  const taps = Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * size * size)));
  const power = taps.reduce((sum, t) => sum + t * t, 0);
  const pass = (from: Float32Array, stepX: number, stepY: number): Float32Array =>
    from.map((_, i) => {
      const x = i % width,
        y = Math.floor(i / width);
      let sum = 0;
      for (let t = -reach; t <= reach; t++) {
        const px = (x + t * stepX + width) % width,
          py = (y + t * stepY + height) % height;
        sum += taps[t + reach] * from[py * width + px];
      }
      return sum / Math.sqrt(power);
    });
  return pass(pass(white, 1, 0), 0, 1);
}
