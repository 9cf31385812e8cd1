import { network } from '../networks/model';
import { chosen, CLASSES, doubtOf, type Chroma, type Leaning } from './classes';
import { leastOff } from './expected';
import { facesOn, tellFaces } from './faces';
import { tellingOf } from './known';
import { tellMargin } from './margin';
import { takenBack } from './quiet';
import { lumaAt, type Tones } from './tones';

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
export async function guessColours(tones: Tones): Promise<Guess> {
  return guessOf(await likelyColours(tones, STILL_LOOKS), tones);
}

/** What the network's looks come to with what is known of faces and of margins. @throws NetworkError when faces cannot be looked for. */
export async function guessOf(gathered: Gathered, tones: Tones): Promise<Guess> {
  const telling = tellingOf(gathered);
  const { width, height } = gathered;
  const luma = lumaAt(tones, width, height);
  tellFaces(telling, { width, height, luma }, await facesOn(tones));
  tellMargin(telling, { width, height, luma });
  return guessFrom(gathered, luma, telling.known);
}

/** How far doubt takes a guess back as a step begins. */
const USUAL_QUIET = 0.8;
/**
 * How far strengths go from what is usual to that at which the guess is expected to be least off, and how much stronger all of it is then: least off it
 * would be paler than pictures are.
 */
const HALFWAY = 0.5,
  STRONGER = 1.06;

/**
 * The colours chosen of those that may be.
 *
 * @param luma lightness of each place, 0 to 255.
 * @param known how far each place is known by other means, 0 to 1.
 */
function guessFrom({ width, height, likely }: Gathered, luma: ArrayLike<number>, known: ArrayLike<number>): Guess {
  const size = width * height;
  const answers = Object.fromEntries(LEANINGS.map((leaning) => [leaning, new Int8Array(2 * size)])) as Guess['answers'];
  const doubt = new Uint8Array(size);
  for (let i = 0; i < size; i++) {
    const here = likely.subarray(i * CLASSES.length, (i + 1) * CLASSES.length);
    doubt[i] = Math.round(doubtOf(here));
    const shown = 1 - USUAL_QUIET * takenBack(doubt[i]);
    const { cb, cr } = chosen(here, 'likely');
    const strength = STRONGER * (1 + HALFWAY * (leastOff(here, { cb: shown * cb, cr: shown * cr }, luma[i]) - 1));
    for (const leaning of LEANINGS) {
      const one: Chroma = chosen(here, leaning);
      answers[leaning][i] = Math.max(-127, Math.min(127, Math.round(strength * one.cb)));
      answers[leaning][size + i] = Math.max(-127, Math.min(127, Math.round(strength * one.cr)));
    }
  }
  takeWash(answers, known);
  return { width, height, answers, doubt };
}

/** Codes of chroma that a picture's mean colour may have: more of one colour all over is seldom true, and often a wash over what is not known. */
const WASH = 16;

/**
 * Makes all of the answers weaker along the likely colours' mean where that is stronger, but for those that are known, which do not count. What is grey, or of
 * another colour, stays.
 */
export function takeWash(answers: Guess['answers'], known: ArrayLike<number>): void {
  const size = answers.likely.length / 2;
  let b = 0,
    r = 0,
    all = 0;
  for (let i = 0; i < size; i++) {
    b += (1 - known[i]) * answers.likely[i];
    r += (1 - known[i]) * answers.likely[size + i];
    all += 1 - known[i];
  }
  const length = Math.hypot(b, r);
  if (!(length > WASH * all)) return;
  const [towardsB, towardsR] = [b / length, r / length];
  const along = (answer: Int8Array, i: number): number => towardsB * answer[i] + towardsR * answer[size + i];
  let forth = 0;
  for (let i = 0; i < size; i++) forth += (1 - known[i]) * Math.max(0, along(answers.likely, i));
  const taken = (length - WASH * all) / forth;
  for (const leaning of LEANINGS)
    for (let i = 0; i < size; i++) {
      const less = taken * (1 - known[i]) * Math.max(0, along(answers[leaning], i));
      answers[leaning][i] = Math.round(answers[leaning][i] - less * towardsB);
      answers[leaning][size + i] = Math.round(answers[leaning][size + i] - less * towardsR);
    }
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
  const seen = lumaAt(tones, w, h);
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
