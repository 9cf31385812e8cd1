import { meansWithin } from '../fill/means';
import { codes } from '../picture/matrix';
import { NEUTRAL_CHROMA, type Picture } from '../picture/picture';
import { reducedPlane } from '../picture/reduced';
import { median } from '../metrics/median';

/** What colours a picture has of its own: none, one tone for each lightness, some parts tinted by hand, or colours all over. */
export type OwnColours = 'none' | 'toned' | 'tinted' | 'coloured';

/** A still on a small raster: what colours are spread along, and which of its own there are. */
export interface Tones {
  width: number;
  height: number;
  /** Lightness, 0 to 255. */
  luma: Uint8Array;
  own: OwnColours;
  /** How far the colours that are there are more than a tone, 0 to 255. */
  kept: Uint8Array;
}

/** Longest side of the raster, of a still and of a frame of many. */
const LONGEST = 480;
export const FRAME_LONGEST = 240;
/** A tone that fades or is silvered goes towards grey and beyond, and where the image is thickest it is stronger: parts of its mean. */
const ALONG = { least: -0.8, most: 2.2 };
/** Codes of 255 off all that a tone may be from which a colour is none of it, and from which it surely is not. */
const OFF = { from: 7, surely: 16 };
/** Codes off it from which it is doubtful: faded dyes are a little off everywhere, what was tinted by hand stands out. */
const DOUBTFUL = 3.5;
/** Mean codes from which a monochrome picture has a tone. */
const TONED_FROM = 2;
/** Shares of the picture surely off the tone: under the first they are dirt, above the second it is no tinting by hand. */
const TINTED_FROM = 0.004,
  COLOURED_FROM = 0.15;
/** Share in doubt that noise and paper may have. */
const NOISY = 0.04;
/** Places in doubt for one that surely has a colour, above which it is no tinting by hand. */
const MOST_DOUBTFUL = 0.7;
/** Places round one over which its colour is taken, so that noise is none. */
const AROUND = 2;

/** @param picture a whole frame. @param longest side of the raster at most. */
export function tonesOf(picture: Picture, longest = LONGEST): Tones {
  const { info } = picture;
  const by = Math.ceil(Math.max(info.width, info.height) / longest);
  const width = Math.max(1, Math.floor(info.width / by)),
    height = Math.max(1, Math.floor(info.height / by));
  const { black, luma: span, chroma } = codes(info.colour.range);
  const lightness = reducedPlane(picture, 0, by, width, height);
  const luma = Uint8Array.from(lightness, (v) => Math.min(255, Math.max(0, (255 * (v - black)) / span)));
  if (info.planes === 1) return { width, height, luma, own: 'none', kept: new Uint8Array(width * height) };
  const [cb, cr] = [1, 2].map((index) => {
    const codesOff = reducedPlane(picture, index, by, width, height).map((v) => (255 * (v - NEUTRAL_CHROMA)) / chroma);
    return meansWithin(codesOff, undefined, width, height, AROUND);
  });
  return { width, height, luma, ...ownOf(luma, cb, cr) };
}

/** Lightness at another size: means where there are fewer pixels, and between neighbours where there are more. */
export function lumaAt({ luma, width, height }: Tones, w: number, h: number): Float32Array {
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

/** Which places are off the tone of the picture, whatever there is of it at each place: off the line from grey through the mean colour. */
function ownOf(luma: Uint8Array, cb: Float32Array, cr: Float32Array): Pick<Tones, 'own' | 'kept'> {
  const b = median(cb),
    r = median(cr);
  const length = Math.max(1e-6, b * b + r * r);
  const kept = new Uint8Array(luma.length);
  let strength = 0,
    doubtful = 0,
    certain = 0;
  for (let i = 0; i < luma.length; i++) {
    const along = Math.min(ALONG.most, Math.max(ALONG.least, (cb[i] * b + cr[i] * r) / length));
    const off = Math.hypot(cb[i] - along * b, cr[i] - along * r);
    const t = Math.min(1, Math.max(0, (off - OFF.from) / (OFF.surely - OFF.from)));
    kept[i] = Math.round(255 * t * t * (3 - 2 * t));
    strength += Math.hypot(cb[i], cr[i]) / luma.length;
    if (off > OFF.from) certain++;
    else if (off > DOUBTFUL) doubtful++;
  }
  if (certain >= TINTED_FROM * luma.length || doubtful >= NOISY * luma.length) {
    const tinted = certain < COLOURED_FROM * luma.length && doubtful < MOST_DOUBTFUL * certain;
    return { own: tinted ? 'tinted' : 'coloured', kept };
  }
  return { own: strength < TONED_FROM ? 'none' : 'toned', kept: kept.fill(0) };
}
