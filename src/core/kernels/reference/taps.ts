/** Weights of separable resampling: which samples, and how much of each, make one output sample. */

export interface Taps {
  /** First source sample of each output sample; may lie outside, where the edge sample is repeated. */
  starts: Int32Array;
  /** `count` weights an output sample, adding up to 1. */
  weights: Float32Array;
  count: number;
}

export type ResampleFilter = 'lanczos3' | 'cubic' | 'area';

const sinc = (x: number): number => (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x));

const FILTERS: Record<ResampleFilter, { support: number; at: (x: number) => number }> = {
  /** Duchon, 1979. */
  lanczos3: { support: 3, at: (x) => (Math.abs(x) < 3 ? sinc(x) * sinc(x / 3) : 0) },
  /** Keys, 1981, a = -0.5. */
  cubic: {
    support: 2,
    at: (x) => {
      const t = Math.abs(x);
      return t < 1 ? (1.5 * t - 2.5) * t * t + 1 : t < 2 ? ((-0.5 * t + 2.5) * t - 4) * t + 2 : 0;
    },
  },
  /** A square of one sample's width: what a sensor's cell gathers. */
  area: { support: 0.5, at: (x) => (Math.abs(x) < 0.5 ? 1 : Math.abs(x) === 0.5 ? 0.5 : 0) },
};

/** How one axis of a frame maps to another size. */
export interface Axis {
  /** Samples of the whole frame before and after. */
  from: number;
  to: number;
  /** Where in its cell a sample sits: 0.5 in the middle, 0.25 for chroma sited on the left luma sample of two. */
  siting: number;
}

/**
 * Taps of output samples `first` to `first + length - 1` of an axis. Reduction widens the filter. The figures depend on
 * absolute places only, so that a part of the picture comes out as it would in the whole.
 *
 * @param sourceFirst place in the frame of the plane's first sample.
 */
export function resampleTaps(axis: Axis, filter: ResampleFilter, first: number, length: number, sourceFirst: number): Taps {
  const scale = axis.from / axis.to;
  const stretch = Math.max(1, scale);
  const { support, at } = FILTERS[filter];
  const reach = support * stretch;
  const count = Math.ceil((Math.ceil(2 * reach) + 1) / 4) * 4; // whole vectors
  const starts = new Int32Array(length);
  const weights = new Float32Array(length * count);
  for (let i = 0; i < length; i++) {
    const centre = (first + i + axis.siting) * scale - axis.siting;
    const start = filter === 'area' ? Math.round(centre - reach + 1e-9) : Math.ceil(centre - reach - 1e-9);
    let sum = 0;
    const line = Array.from({ length: count }, (_, k) => {
      const w = filter === 'area' ? overlap(start + k, centre, reach) : at((start + k - centre) / stretch);
      sum += w;
      return w;
    });
    starts[i] = start - sourceFirst;
    for (let k = 0; k < count; k++) weights[i * count + k] = line[k] / sum;
  }
  return { starts, weights, count };
}

/** Length of a sample's cell inside centre +- reach. */
function overlap(sample: number, centre: number, reach: number): number {
  return Math.max(0, Math.min(sample + 0.5, centre + reach) - Math.max(sample - 0.5, centre - reach));
}
