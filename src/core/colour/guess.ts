import { network } from '../networks/model';
import { chosen, CLASSES, doubtOf, type Chroma, type Leaning } from './classes';
import type { Tones } from './tones';

/** Colours that a monochrome picture may have had, on a coarse raster over all of it. */
export interface Guess {
  width: number;
  height: number;
  /** Codes of BT.601 over 255, 0 for grey: Cb of all places, then Cr. */
  answers: Record<Leaning, Int8Array>;
  /** How far apart the colours lie that may be, in codes. */
  doubt: Uint8Array;
}

export const LEANINGS: readonly Leaning[] = ['likely', 'warm', 'cool'];

/** How closely a picture is looked at. */
export interface Looks {
  /** Shorter sides in pixels that the network sees it at: it was taught parts of a third to all of one at 224. */
  sides: readonly number[];
  /** Longer side of the coarse raster of the answer. */
  longest: number;
}

/** Of a still, and of one of many frames. */
export const STILL_LOOKS: Looks = { sides: [224, 320], longest: 112 };
export const FRAME_LOOKS: Looks = { sides: [224], longest: 64 };

/** Input folded to planes of a quarter of the size, whose sides are multiples of `GRID`. */
const FOLD = 4,
  GRID = 8 * FOLD;

/** What the network `colour` makes of a picture. @throws NetworkError when it cannot be used. */
export const guessColours = async (tones: Tones, looks = STILL_LOOKS): Promise<Guess> => guessFrom(await likelyColours(tones, looks));

/** The colours chosen of those that may be. */
export function guessFrom({ width, height, likely }: Gathered): Guess {
  const size = width * height;
  const answers = Object.fromEntries(LEANINGS.map((leaning) => [leaning, new Int8Array(2 * size)])) as Guess['answers'];
  const doubt = new Uint8Array(size);
  for (let i = 0; i < size; i++) {
    const here = likely.subarray(i * CLASSES.length, (i + 1) * CLASSES.length);
    doubt[i] = Math.round(doubtOf(here));
    for (const leaning of LEANINGS) {
      const { cb, cr }: Chroma = chosen(here, leaning);
      answers[leaning][i] = Math.round(cb);
      answers[leaning][size + i] = Math.round(cr);
    }
  }
  takeWash(answers);
  return { width, height, answers, doubt };
}

/** Codes of chroma that a picture's mean colour may have: more of one colour all over is seldom true, and often a wash over what is not known. */
const WASH = 16;

/** Takes what the likely colours' mean has beyond that from all of the answers. */
export function takeWash(answers: Guess['answers']): void {
  const size = answers.likely.length / 2;
  const [b, r] = [0, 1].map((n) => answers.likely.subarray(n * size, (n + 1) * size).reduce((sum, v) => sum + v, 0) / size);
  const length = Math.hypot(b, r);
  if (length <= WASH) return;
  const beyond = 1 - WASH / length;
  for (const leaning of LEANINGS)
    for (let i = 0; i < 2 * size; i++)
      answers[leaning][i] = Math.round(Math.max(-127, Math.min(127, answers[leaning][i] - beyond * (i < size ? b : r))));
}

/**
 * How likely each class is at each place of the coarse raster: the mean of looks at one size or more, each also in the mirror. They add up to 1.
 *
 * @throws NetworkError when the network cannot be used.
 */
export async function likelyColours(tones: Tones, { sides, longest }: Looks): Promise<Gathered> {
  const scale = longest / Math.max(tones.width, tones.height);
  const width = Math.max(1, Math.round(tones.width * scale)),
    height = Math.max(1, Math.round(tones.height * scale));
  const size = width * height;
  const likely = new Float32Array(size * CLASSES.length);
  for (const side of sides) for (const mirrored of [false, true]) await addLook(tones, side, mirrored, { width, height, likely });
  const looks = 2 * sides.length;
  for (let i = 0; i < likely.length; i++) likely[i] /= looks;
  return { width, height, likely };
}

export interface Gathered {
  width: number;
  height: number;
  /** Likelihoods, class by class for each place; looks are added up. */
  likely: Float32Array;
}

/** One look of the network, its likelihoods added at the places of the coarse raster. */
async function addLook(tones: Tones, side: number, mirrored: boolean, { width, height, likely }: Gathered): Promise<void> {
  const scale = side / Math.min(tones.width, tones.height);
  const grid = (v: number): number => Math.max(GRID, Math.round((v * scale) / GRID) * GRID);
  const w = grid(tones.width),
    h = grid(tones.height);
  const seen = resized(tones, w, h);
  const planes = new Float32Array(w * h);
  const fw = w / FOLD,
    fh = h / FOLD;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const from = y * w + (mirrored ? w - 1 - x : x);
      planes[((y % FOLD) * FOLD + (x % FOLD)) * fw * fh + Math.floor(y / FOLD) * fw + Math.floor(x / FOLD)] = (2 * seen[from]) / 255 - 1;
    }
  const answer = await (await network('colour')).run(planes, FOLD * FOLD, fh, fw);
  const classes = CLASSES.length;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const u = Math.min(fw - 1, Math.floor(((x + 0.5) * fw) / width)),
        v = Math.min(fh - 1, Math.floor(((y + 0.5) * fh) / height));
      const from = (v * fw + (mirrored ? fw - 1 - u : u)) * classes,
        to = (y * width + x) * classes;
      for (let k = 0; k < classes; k++) likely[to + k] += answer[from + k];
    }
}

/** Lightness at another size: means where there are fewer pixels, and between neighbours where there are more. */
function resized({ luma, width, height }: Tones, w: number, h: number): Float32Array {
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    const top = Math.floor((y * height) / h),
      bottom = Math.max(top + 1, Math.ceil(((y + 1) * height) / h));
    for (let x = 0; x < w; x++) {
      const left = Math.floor((x * width) / w),
        right = Math.max(left + 1, Math.ceil(((x + 1) * width) / w));
      let sum = 0;
      for (let v = top; v < bottom; v++) for (let u = left; u < right; u++) sum += luma[v * width + u];
      out[y * w + x] = sum / ((right - left) * (bottom - top));
    }
  }
  return out;
}
