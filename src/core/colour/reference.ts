import { reducedPlane } from '../picture/reduced';
import { coveringPicture, type LaidPicture } from '../picture/laid';
import { codes } from '../picture/matrix';
import { NEUTRAL_CHROMA, type Picture, type StreamInfo, wholeRegion } from '../picture/picture';
import { tapsBetween } from '../picture/between';
import { CLASSES } from './classes';
import { type Guess, type Gathered, likelyColours, type Looks } from './guess';
import { type Tones, tonesOf } from './tones';

/** How both pictures are looked at: as closely as a likeness asks for. */
const LOOKS: Looks = { sides: [224], longest: 56 };
/** Longest side to which the other picture is reduced. */
const REDUCED = 480;
/** Classes of colour are put together by so many either way: what a place is, rather than which shade it may have. */
const MERGED = 2;
/** What counts in a likeness, against what the network thinks: lightness by rank, texture, how high and how far across a place lies. */
const LIGHT = 0.7,
  TEXTURE = 0.35,
  HIGH = 0.3,
  ACROSS = 0.1;
/** Places of the other picture that give a colour, and how much less likely than the likest one counts a third. */
const GIVERS = 8,
  LIKE = 0.06;
/** Codes of doubt there always is, and for each unit of unlikeness. */
const DOUBT = 8,
  UNLIKE = 90;

/** A picture as places are compared in it. */
interface Described {
  width: number;
  height: number;
  size: number;
  /** Figures of each place, one after the other. */
  features: Float32Array;
}

/**
 * Colours that a picture's places have in another picture, where places like them are found: by what the network takes them for, by lightness, texture
 * and height in the picture (after Welsh, Ashikhmin and Mueller, Transferring Color to Greyscale Images, 2002, with features of a network).
 *
 * @param other in colours.
 * @throws NetworkError when the network cannot be used.
 */
export async function referredColours(tones: Tones, other: LaidPicture): Promise<Guess> {
  const scale = Math.min(1, REDUCED / Math.max(other.width, other.height));
  const info: StreamInfo = {
    ...{ width: Math.max(1, Math.round(other.width * scale)), height: Math.max(1, Math.round(other.height * scale)) },
    ...{ pixelAspect: { num: 1, den: 1 }, chromaShiftX: 0, chromaShiftY: 0, planes: 3, depth: 16 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
    ...{ fieldOrder: 'progressive', frames: 1, rate: { num: 1, den: 1 } },
  };
  const picture = coveringPicture(other, info, wholeRegion(info));
  const theirs = tonesOf(picture);
  const given = described(theirs, await likelyColours(theirs, LOOKS)),
    asked = described(tones, await likelyColours(tones, LOOKS));
  return matched(asked, given, chromaOf(picture, given));
}

function described(tones: Tones, { width, height, likely }: Gathered): Described {
  const ranks = ranksOf(tones.luma);
  const merged = CLASSES.map(({ cb, cr }) => [cb, cr].map((v) => Math.round(v / 12 / MERGED)).join());
  const names = [...new Set(merged)];
  const at = merged.map((name) => names.indexOf(name));
  const size = names.length + 4;
  const features = new Float32Array(width * height * size);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x,
        to = i * size;
      for (let k = 0; k < CLASSES.length; k++) features[to + at[k]] += likely[i * CLASSES.length + k];
      // Of square roots the distance is Hellinger's.
      for (let k = 0; k < names.length; k++) features[to + k] = Math.sqrt(features[to + k]);
      const part = { left: x / width, right: (x + 1) / width, top: y / height, bottom: (y + 1) / height };
      const { mean, deviation } = within(tones, ranks, part);
      features.set([LIGHT * mean, (TEXTURE * Math.log2(1 + deviation)) / 6, (HIGH * y) / height, (ACROSS * x) / width], to + names.length);
    }
  return { width, height, size, features };
}

/** For each code of lightness the share of the picture that is darker. */
function ranksOf(luma: Uint8Array): Float32Array {
  const counts = new Float32Array(256);
  for (const v of luma) counts[v] += 1 / luma.length;
  let below = 0;
  return counts.map((share) => {
    const rank = below + share / 2;
    below += share;
    return rank;
  });
}

/** Mean rank of a part of a picture, its sides in fractions of it, and how far its lightness deviates. */
function within({ luma, width, height }: Tones, ranks: Float32Array, part: { left: number; right: number; top: number; bottom: number }) {
  const [left, top] = [Math.floor(part.left * width), Math.floor(part.top * height)];
  const right = Math.max(left + 1, Math.floor(part.right * width)),
    bottom = Math.max(top + 1, Math.floor(part.bottom * height));
  let mean = 0,
    sum = 0,
    squares = 0;
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const v = luma[y * width + x];
      mean += ranks[v];
      sum += v;
      squares += v * v;
    }
  const count = (right - left) * (bottom - top);
  return { mean: mean / count, deviation: Math.sqrt(Math.max(0, squares / count - (sum / count) ** 2)) };
}

/** Chroma of the other picture at each of its places, in codes of 255: Cb, then Cr. */
function chromaOf(picture: Picture, { width, height }: Described): Float32Array[] {
  const { chroma } = codes(picture.info.colour.range);
  const by = Math.max(1, Math.floor(Math.max(picture.info.width / width, picture.info.height / height)));
  const w = Math.max(1, Math.floor(picture.info.width / by)),
    h = Math.max(1, Math.floor(picture.info.height / by));
  return [1, 2].map((index) => {
    const plane = reducedPlane(picture, index, by, w, h);
    return Float32Array.from({ length: width * height }, (_, i) => {
      const [x] = tapsBetween(((i % width) + 0.5) / width, w),
        [y] = tapsBetween((Math.floor(i / width) + 0.5) / height, h);
      return (255 * (plane[y * w + x] - NEUTRAL_CHROMA)) / chroma;
    });
  });
}

function matched(asked: Described, given: Described, [cb, cr]: Float32Array[]): Guess {
  const { width, height, size } = asked;
  const count = width * height,
    others = given.width * given.height;
  const likely = new Int8Array(2 * count);
  const doubt = new Uint8Array(count);
  const nearest = new Float32Array(GIVERS),
    which = new Int32Array(GIVERS);
  for (let i = 0; i < count; i++) {
    nearest.fill(Infinity);
    for (let j = 0; j < others; j++) {
      let apart = 0;
      for (let k = 0; k < size && apart < nearest[GIVERS - 1]; k++)
        apart += (asked.features[i * size + k] - given.features[j * size + k]) ** 2;
      if (apart >= nearest[GIVERS - 1]) continue;
      let n = GIVERS - 1;
      for (; n > 0 && nearest[n - 1] > apart; n--) {
        nearest[n] = nearest[n - 1];
        which[n] = which[n - 1];
      }
      nearest[n] = apart;
      which[n] = j;
    }
    let sumB = 0,
      sumR = 0,
      squares = 0,
      all = 0;
    for (let n = 0; n < Math.min(GIVERS, others); n++) {
      const weight = Math.exp(-(nearest[n] - nearest[0]) / LIKE ** 2);
      const [b, r] = [cb[which[n]], cr[which[n]]];
      sumB += weight * b;
      sumR += weight * r;
      squares += weight * (b * b + r * r);
      all += weight;
    }
    const [b, r] = [sumB / all, sumR / all];
    likely[i] = Math.round(b);
    likely[count + i] = Math.round(r);
    const spread = Math.sqrt(Math.max(0, squares / all - b * b - r * r));
    doubt[i] = Math.min(255, Math.round(DOUBT + spread + UNLIKE * Math.sqrt(nearest[0])));
  }
  return { width, height, answers: { likely, warm: likely, cool: likely }, doubt };
}
