/** How a point was spread. */
export type Spread =
  | { kind: 'softness'; /** Deviation of a Gaussian in pixels. */ blur: number }
  | { kind: 'defocus'; /** Radius of a disc in pixels. */ radius: number }
  | { kind: 'motion'; /** Pixels a point was drawn out. */ length: number; /** Degrees, 0 is level, 90 upright. */ angle: number };

/** Pixels from the middle of a spread to its end. */
export function spreadReach(spread: Spread): number {
  if (spread.kind === 'softness') return Math.ceil(3 * spread.blur);
  return Math.ceil(spread.kind === 'defocus' ? spread.radius + 1 : spread.length / 2 + 1);
}

/** Points a pixel is divided into, sideways and downwards, to draw a spread. */
const FINER = 8;

/** The spread as samples of a square of 2 `reach` + 1 pixels, which sum to one. */
export function spreadSamples(spread: Spread): { reach: number; samples: Float64Array } {
  const reach = spreadReach(spread);
  const side = 2 * reach + 1;
  const samples = new Float64Array(side * side);
  for (let y = 0; y < side; y++) {
    for (let x = 0; x < side; x++) {
      let sum = 0;
      for (let j = 0; j < FINER; j++) {
        for (let i = 0; i < FINER; i++) sum += densityAt(spread, x - reach + (i + 0.5) / FINER - 0.5, y - reach + (j + 0.5) / FINER - 0.5);
      }
      samples[y * side + x] = sum;
    }
  }
  const total = samples.reduce((sum, v) => sum + v, 0);
  return { reach, samples: samples.map((v) => v / total) };
}

function densityAt(spread: Spread, x: number, y: number): number {
  if (spread.kind === 'softness') return Math.exp(-(x * x + y * y) / (2 * spread.blur ** 2));
  if (spread.kind === 'defocus') return Math.hypot(x, y) <= spread.radius ? 1 : 0;
  const turn = (spread.angle * Math.PI) / 180;
  const along = x * Math.cos(turn) + y * Math.sin(turn),
    across = y * Math.cos(turn) - x * Math.sin(turn);
  // A line of one pixel's width.
  return Math.abs(along) <= spread.length / 2 && Math.abs(across) <= 0.5 ? 1 : 0;
}
