import { SIGMA_UNIT, type Plane } from '../picture/picture';

/** Side of a patch, and its samples. */
const SIDE = 7,
  SAMPLES = SIDE * SIDE;
/** Share of the patches, the plainest, that are judged; and how many at least and at most. */
const PLAIN = 0.3,
  LEAST_PATCHES = 200,
  MAX_PATCHES = 12_000;
/** Places looked at of a plane; of a larger one evenly spread ones. */
const MAX_PLACES = 60_000;
/** Codes of 255 near which noise is cut off, and how many samples of a patch may lie there. */
const BLACK = 3,
  WHITE = 252,
  MAX_CUT = SAMPLES / 8;
/** Sweeps after which the eigenvalues stand, and what is left beside the diagonal, as a share, that counts as nothing. */
const MAX_SWEEPS = 12,
  SETTLED = 1e-12;

/**
 * Deviation of the noise of single pixels, from the principal components of a picture's plainest patches: a picture lies in few
 * directions, white noise in all of them alike (Pyatykh, Hesser and Zheng, 2013). Of the variances along the directions, the
 * largest are left out until the mean of the others is their median (Chen, Zhu and Heng, 2015).
 *
 * Texture whose grains are pixels passes for noise; noise that hangs together, or has gone through a codec, is missed.
 *
 * @returns codes of 255; undefined where a plane has too few patches that are neither black nor white.
 */
export function measureWhiteNoise(plane: Plane): number | undefined {
  const places = plainest(plane);
  if (places.length < LEAST_PATCHES) return undefined;
  const variances = eigenvalues(covarianceOf(plane.data, plane.width, places), SAMPLES).sort((a, b) => b - a);
  let sum = variances.reduce((a, b) => a + b, 0);
  for (const [n, variance] of variances.entries()) {
    const left = variances.length - n;
    const median = variances[n + (left >> 1)];
    if (sum / left <= median || left < 3) return Math.sqrt(Math.max(0, median)) / SIGMA_UNIT;
    sum -= variance;
  }
  return 0;
}

/** Where the plainest patches begin in the plane's data. */
function plainest({ width, height, data }: Plane): number[] {
  const columns = width - SIDE + 1,
    rows = height - SIDE + 1;
  if (columns < 1 || rows < 1) return [];
  // Places are counted through, with a step that does not divide the columns, so that all of them are met.
  let stride = Math.max(1, Math.floor((columns * rows) / MAX_PLACES));
  while (stride > 1 && columns % stride === 0) stride++;
  const found: { at: number; busy: number }[] = [];
  for (let n = 0; n < columns * rows; n += stride) {
    const at = Math.floor(n / columns) * width + (n % columns);
    const busy = busynessAt(data, at, width);
    if (busy !== undefined) found.push({ at, busy });
  }
  found.sort((a, b) => a.busy - b.busy || a.at - b.at);
  const taken = found.slice(0, Math.max(LEAST_PATCHES, Math.floor(found.length * PLAIN)));
  const apart = Math.max(1, taken.length / MAX_PATCHES);
  return Array.from({ length: Math.floor(taken.length / apart) }, (_, i) => taken[Math.floor(i * apart)].at);
}

/** Squared differences between samples two apart; undefined where too much is black or white. */
function busynessAt(data: Uint16Array, start: number, width: number): number | undefined {
  let busy = 0,
    cut = 0;
  for (let y = 0; y < SIDE; y++) {
    for (let i = start + y * width, end = i + SIDE; i < end; i++) {
      const v = data[i];
      if (v < BLACK * SIGMA_UNIT || v > WHITE * SIGMA_UNIT) cut++;
      if (i + 2 < end) busy += (data[i + 2] - v) ** 2;
      if (y + 2 < SIDE) busy += (data[i + 2 * width] - v) ** 2;
    }
  }
  return cut > MAX_CUT ? undefined : busy;
}

/** Covariance of the patches' samples, row by row. */
function covarianceOf(data: Uint16Array, width: number, places: number[]): Float64Array {
  const sums = new Float64Array(SAMPLES),
    products = new Float64Array(SAMPLES * SAMPLES),
    patch = new Float64Array(SAMPLES);
  for (const at of places) {
    // From the patch's own middle: differences of large squares would lose what is small.
    const middle = data[at + (SIDE >> 1) * (width + 1)];
    for (let k = 0; k < SAMPLES; k++) patch[k] = data[at + Math.floor(k / SIDE) * width + (k % SIDE)] - middle;
    for (let a = 0; a < SAMPLES; a++) {
      sums[a] += patch[a];
      for (let b = a; b < SAMPLES; b++) products[a * SAMPLES + b] += patch[a] * patch[b];
    }
  }
  const n = places.length;
  for (let a = 0; a < SAMPLES; a++) {
    for (let b = a; b < SAMPLES; b++) {
      const value = products[a * SAMPLES + b] / n - (sums[a] / n) * (sums[b] / n);
      products[a * SAMPLES + b] = products[b * SAMPLES + a] = value;
    }
  }
  return products;
}

/** Eigenvalues of a symmetric matrix, which is overwritten, by Jacobi's rotations (Golub and Van Loan, Matrix Computations, 8.5). */
export function eigenvalues(matrix: Float64Array, n: number): number[] {
  const at = (row: number, column: number): number => row * n + column;
  const total = matrix.reduce((sum, v) => sum + v * v, 0);
  for (let sweep = 0; sweep < MAX_SWEEPS; sweep++) {
    let beside = 0;
    for (let p = 0; p < n; p++) for (let q = p + 1; q < n; q++) beside += matrix[at(p, q)] ** 2;
    if (beside <= SETTLED * total) break;
    for (let p = 0; p < n; p++) {
      for (let q = p + 1; q < n; q++) {
        const pq = matrix[at(p, q)];
        if (pq === 0) continue;
        const half = (matrix[at(q, q)] - matrix[at(p, p)]) / (2 * pq);
        const tangent = (half < 0 ? -1 : 1) / (Math.abs(half) + Math.sqrt(half * half + 1));
        const cosine = 1 / Math.sqrt(tangent * tangent + 1),
          sine = tangent * cosine;
        for (let k = 0; k < n; k++) {
          const a = matrix[at(k, p)],
            b = matrix[at(k, q)];
          matrix[at(k, p)] = cosine * a - sine * b;
          matrix[at(k, q)] = sine * a + cosine * b;
        }
        for (let k = 0; k < n; k++) {
          const a = matrix[at(p, k)],
            b = matrix[at(q, k)];
          matrix[at(p, k)] = cosine * a - sine * b;
          matrix[at(q, k)] = sine * a + cosine * b;
        }
      }
    }
  }
  return Array.from({ length: n }, (_, i) => matrix[at(i, i)]);
}
