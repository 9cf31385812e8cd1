import { meansWithin } from '../fill/means';

/** How readily colour passes between neighbouring places. */
export interface Links {
  width: number;
  height: number;
  /** Between a place and the one to its right; 0 at the right edge. */
  across: Float32Array;
  /** Between a place and the one below; 0 at the lower edge. */
  down: Float32Array;
}

/** Sizes at which edges are looked for. */
interface Scale {
  /** Places over whose means a step is taken: edges of lenses and scans are soft, and grain is none. */
  mean: number;
  /** Places to each side that a step reaches. */
  span: number;
  /** Only where steps are highest do they stop colours: a wide scale blurs edges, and corridors beside them would close. */
  ridge: boolean;
}

/** The finer follows forms; the wider sees weak edges that grain hides from it. */
const SCALES: readonly Scale[] = [
  { mean: 1, span: 1, ridge: false },
  { mean: 2, span: 2, ridge: true },
];
/** Share of the highest step beside it that a step of a ridge has at least. */
const RIDGE = 0.9;
/** Places round one over which its usual steps of lightness are taken: near by, and further off. */
const NEAR = 8,
  FAR = 24;
/** Steps of 255 codes that are nothing anywhere, and how many times as high as usual one is an edge. */
const PLAIN = 1.6,
  OUTSTANDING = 1.2;
/** Times the mean from which a step has no say in what is usual. */
const HIGH = 1.7;
/** How soon what stands out is an edge, by its eighth power: grain and soft forms pass, edges of a few codes hardly. */
const steep = (high: number): number => {
  const square = high * high,
    fourth = square * square;
  return fourth * fourth;
};
/** What passes over the strongest edge. */
const LEAST = 1e-5;

/**
 * How readily colour passes between places of a picture: freely where lightness goes on as it does all round, hardly where it steps further. In texture
 * steps are usual, and colour passes; an edge between even things stands out.
 *
 * @param luma 0 to 255, row by row.
 * @param barred 1 where colour shall not pass; none where left out.
 */
export function linksOf(luma: Uint8Array, width: number, height: number, barred?: Uint8Array): Links {
  const size = width * height;
  const across = new Float32Array(size).fill(1),
    down = new Float32Array(size).fill(1);
  for (const scale of SCALES) {
    const { right, below, usual } = stepsOf(luma, width, height, scale);
    narrow(across, right, usual, 1, scale);
    narrow(down, below, usual, width, scale);
  }
  for (let i = 0; i < size; i++) {
    if (i % width === width - 1) across[i] = 0;
    else if (barred && (barred[i] || barred[i + 1])) across[i] = LEAST;
    if (i >= size - width) down[i] = 0;
    else if (barred && (barred[i] || barred[i + width])) down[i] = LEAST;
  }
  return { width, height, across, down };
}

interface Steps {
  /** Steps of lightness from each place to the one on its right, and to the one below. */
  right: Float32Array;
  below: Float32Array;
  /** What is usual round each. */
  usual: Float32Array;
}

function stepsOf(luma: Uint8Array, width: number, height: number, { mean, span, ridge }: Scale): Steps {
  const size = width * height;
  const means = meansWithin(luma, undefined, width, height, mean);
  const steps = new Float32Array(size);
  const right = new Float32Array(size),
    below = new Float32Array(size);
  for (let y = 0; y < height; y++) {
    const row = y * width,
      top = Math.max(0, y - span) * width,
      low = Math.min(height - 1, y + 1 + span) * width;
    for (let x = 0; x < width; x++) {
      const i = row + x;
      right[i] = Math.abs(means[row + Math.min(width - 1, x + 1 + span)] - means[row + Math.max(0, x - span)]);
      below[i] = Math.abs(means[low + x] - means[top + x]);
      steps[i] = (right[i] + below[i]) / 2;
    }
  }
  const around = meansWithin(steps, undefined, width, height, NEAR);
  // Without what stands out, or an edge would hide itself.
  const plain = new Uint8Array(size);
  for (let i = 0; i < size; i++) plain[i] = Number(steps[i] <= HIGH * around[i] + PLAIN / 4);
  if (!ridge) {
    // Once more: a low edge that begins at a high one would be plain beside it, and let colours round its end.
    const rest = meansWithin(steps, plain, width, height, NEAR);
    for (let i = 0; i < size; i++) if (steps[i] > HIGH * rest[i] + PLAIN / 4) plain[i] = 0;
  }
  const near = meansWithin(steps, plain, width, height, NEAR),
    far = meansWithin(steps, plain, width, height, FAR);
  // Where several edges meet, steps are high all round: further off they are not.
  for (let i = 0; i < size; i++) near[i] = Math.min(near[i], far[i]);
  return { right, below, usual: near };
}

/** Makes links no wider than what passes over steps. @param next how far on the place lies that a link leads to. */
function narrow(links: Float32Array, steps: Float32Array, usual: Float32Array, next: number, { ridge }: Scale): void {
  for (let i = 0; i + next < links.length; i++) {
    const step = steps[i];
    if (ridge && step < RIDGE * Math.max(steps[Math.max(0, i - next)], steps[i + next])) continue;
    const high = step / (PLAIN + OUTSTANDING * Math.min(usual[i], usual[i + next]));
    links[i] = Math.max(LEAST, Math.min(links[i], 1 / (1 + steep(high))));
  }
}
