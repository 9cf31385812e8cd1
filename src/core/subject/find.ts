import type { Picture } from '../picture/picture';
import { liteModel, type LiteModel } from '../vision/liteRt';
import { cutRgb, reducedRgb, type Rgb, rgbOf } from '../vision/rgb';
import { refineSubject } from './refine';
import type { Subject } from './subject';

/** Side of the square the network sees, of that its answers are gathered in, and longest side of the raster they are refined on. */
const SIDE = 256,
  GATHERED = 512,
  LONGEST = 768;
/** Parts of the picture that are looked at by themselves beside the whole: their first corner, in parts of the picture, and their size. */
const PARTS = [0, 0.2, 0.4].flatMap((x) => [0, 0.2, 0.4].map((y) => ({ x, y }))),
  PART = 0.6;
/** How much a look at the whole counts beside one at a part of it. */
const WHOLE_WEIGHT = 3;
/** The most that a look counts for: none is ever wholly sure. */
const MOST_SURE = 0.995;

let network: Promise<LiteModel> | undefined;

/**
 * Finds the people of a picture: by a network trained by others on photographs of people (selfie_segmentation of the package
 * @mediapipe/selfie_segmentation, Apache-2.0), refined along the picture's edges.
 *
 * @param picture a whole frame.
 */
export async function findSubject(picture: Picture): Promise<Subject> {
  const { width, height } = picture.region;
  const whole = rgbOf(picture);
  const scale = Math.min(1, LONGEST / Math.max(width, height));
  const seen = reducedRgb(whole, Math.max(2, Math.round(width * scale)), Math.max(2, Math.round(height * scale)));
  return refineSubject(await likelihoodOf(reducedRgb(whole, GATHERED, GATHERED)), GATHERED, seen);
}

/**
 * What the network says of a picture, over a square: of the whole and of parts, in which the people of a group are larger; as it is, with its fading
 * taken off, and in the mirror, for prints are unlike what it was trained on.
 */
async function likelihoodOf(picture: Rgb): Promise<Float32Array> {
  const odds = new Float32Array(GATHERED * GATHERED),
    weights = new Float32Array(GATHERED * GATHERED);
  const own = unfaded(picture);
  for (const part of [{ x: 0, y: 0, size: 1, weight: WHOLE_WEIGHT }, ...PARTS.map((p) => ({ ...p, size: PART, weight: 1 }))]) {
    const side = Math.round(part.size * GATHERED),
      left = Math.round(part.x * GATHERED),
      top = Math.round(part.y * GATHERED);
    const found = await oddsOf([picture, own].map((look) => reducedRgb(cutRgb(look, left, top, side, side), SIDE, SIDE)));
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const at = (top + y) * GATHERED + left + x;
        const weight = part.size === 1 ? part.weight : part.weight * towardsEdge(x, side, left) * towardsEdge(y, side, top);
        odds[at] += weight * found[Math.floor((y * SIDE) / side) * SIDE + Math.floor((x * SIDE) / side)];
        weights[at] += weight;
      }
  }
  return odds.map((v, i) => 1 / (1 + Math.exp(-v / weights[i])));
}

/** Weight of a place of a part: less towards edges that are none of the picture's own. */
function towardsEdge(at: number, side: number, from: number): number {
  const before = from === 0 ? 1 : (at + 1) / (side / 4),
    after = from + side >= GATHERED ? 1 : (side - at) / (side / 4);
  return Math.max(0.01, Math.min(1, before, after));
}

/** Logarithmic odds of being subject, the mean over looks and their mirrors. */
async function oddsOf(looks: Rgb[]): Promise<Float32Array> {
  network ??= liteModel('@mediapipe/selfie_segmentation', 'selfie_segmentation.tflite');
  const model = await network;
  const odds = new Float32Array(SIDE * SIDE);
  for (const { data } of looks) {
    const square = Float32Array.from(data, (v) => v / 255);
    for (const mirrored of [false, true]) {
      const [found] = await model.run(mirrored ? inMirror(square, 3) : square, [1, SIDE, SIDE, 3]);
      const right = mirrored ? inMirror(found, 1) : found;
      for (let i = 0; i < odds.length; i++) {
        const held = Math.min(MOST_SURE, Math.max(1 - MOST_SURE, right[i]));
        odds[i] += Math.log(held / (1 - held)) / (2 * looks.length);
      }
    }
  }
  return odds;
}

/** A square of `channels` values a place, left and right exchanged. */
function inMirror(square: Float32Array, channels: number): Float32Array {
  const out = new Float32Array(square.length);
  for (let i = 0; i < SIDE * SIDE; i++) {
    const to = i - (i % SIDE) + SIDE - 1 - (i % SIDE);
    for (let c = 0; c < channels; c++) out[channels * to + c] = square[channels * i + c];
  }
  return out;
}

/** Each colour drawn out from its hundredth darkest to its hundredth lightest place. */
function unfaded({ data, width, height }: Rgb): Rgb {
  const out = new Uint8Array(data.length);
  for (let c = 0; c < 3; c++) {
    const values = data.filter((_, i) => i % 3 === c).sort();
    const low = values[Math.floor(0.01 * values.length)],
      high = values[Math.floor(0.99 * values.length)];
    for (let i = c; i < out.length; i += 3)
      out[i] = Math.round(Math.min(255, Math.max(0, (255 * (data[i] - low)) / Math.max(25, high - low))));
  }
  return { data: out, width, height };
}
