import { reducedPlane } from '../picture/reduced';
import { coveringPicture, type LaidPicture } from '../picture/laid';
import { codes } from '../picture/matrix';
import { NEUTRAL_CHROMA, type Picture, type StreamInfo, wholeRegion } from '../picture/picture';
import { tapsBetween } from '../picture/between';
import { type Guess, likelyColours, type Looks } from './guess';
import { type Things, thingsOf, unlike } from './things';
import { type Tones, tonesOf } from './tones';

/** How both pictures are looked at: as closely as a likeness asks for. */
const LOOKS: Looks = { sides: [224], longest: 56 };
/** Longest side to which the other picture is reduced. */
const REDUCED = 480;
/** Places of the other picture that give a colour, and how much less likely than the likest one counts a third. */
const GIVERS = 8,
  LIKE = 0.06;
/** Codes of doubt there always is, and for each unit of unlikeness. */
const DOUBT = 8,
  UNLIKE = 90;

/** A picture in colours, as its places give theirs to those like them. */
export interface Giver {
  things: Things;
  /** Chroma of each place in codes of 255. */
  cb: Float32Array;
  cr: Float32Array;
}

/**
 * Colours that a picture's places have in another picture, where places like them are found: by what the network takes them for, by lightness, texture
 * and height in the picture (after Welsh, Ashikhmin and Mueller, Transferring Color to Greyscale Images, 2002, with features of a network).
 *
 * @param other in colours.
 * @throws NetworkError when the network cannot be used.
 */
export async function referredColours(tones: Tones, other: LaidPicture): Promise<Guess> {
  return givenTo(thingsOf(tones, await likelyColours(tones, LOOKS)), await giverOf(other));
}

/** A picture that gives its colours. @throws NetworkError when the network cannot be used. */
export async function giverOf(other: LaidPicture): Promise<Giver> {
  const scale = Math.min(1, REDUCED / Math.max(other.width, other.height));
  const info: StreamInfo = {
    ...{ width: Math.max(1, Math.round(other.width * scale)), height: Math.max(1, Math.round(other.height * scale)) },
    ...{ pixelAspect: { num: 1, den: 1 }, chromaShiftX: 0, chromaShiftY: 0, planes: 3, depth: 16 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
    ...{ fieldOrder: 'progressive', frames: 1, rate: { num: 1, den: 1 } },
  };
  const picture = coveringPicture(other, info, wholeRegion(info));
  const tones = tonesOf(picture);
  const things = thingsOf(tones, await likelyColours(tones, LOOKS));
  const [cb, cr] = chromaOf(picture, things);
  return { things, cb, cr };
}

/** Chroma of the other picture at each of its places, in codes of 255: Cb, then Cr. */
function chromaOf(picture: Picture, { width, height }: Things): Float32Array[] {
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

/** The colours that a picture gives to the places of another one. */
export function givenTo({ width, height, figures }: Things, { things, cb, cr }: Giver): Guess {
  const count = width * height,
    others = things.width * things.height;
  const likely = new Int8Array(2 * count);
  const doubt = new Uint8Array(count);
  const nearest = new Float32Array(GIVERS),
    which = new Int32Array(GIVERS);
  for (let i = 0; i < count; i++) {
    nearest.fill(Infinity);
    for (let j = 0; j < others; j++) {
      const apart = unlike(figures, i, things.figures, j, nearest[GIVERS - 1]);
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
