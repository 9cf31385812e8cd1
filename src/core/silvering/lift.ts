import { codes } from '../picture/matrix';
import { EVEN_ODDS, logOdds, ODDS_STEP } from '../networks/odds';
import { copyPicture, NEUTRAL_CHROMA, type Picture, planeRegion, type Region } from '../picture/picture';
import { tapsBetween } from '../picture/between';
import type { Silvering } from './find';
import { toneAt } from './tone';

/** Lightness, over that of white, at which silver does not come to the surface any more; `Silvering.LIGHT` in training/findingTasks.py. */
const LIGHT = 1.15;
/** Natural logarithms of odds over which the veil sets in, so that it does not end at a line. */
const ONSET = 2;
/** How much further apart at most what the veil has brought near to one another is taken: more would be noise. */
const STEEPEST = 3;
/** How many times further from grey at most a colour under the veil is taken than it is seen. */
const DEEPEST = 2;
/** Cover from which a colour is the print's tone alone. */
const TONED = 0.3;

/** How a veil is lifted. */
export interface Lifting {
  /** Probability from which a place is veiled, 0 to 1. */
  sure: number;
  /** Times the veil that was found. */
  strength: number;
}

/** A veil at one place: its cover of black, and its colour, Y' from 0 to 1, Cb and Cr about 0. */
interface Veil {
  cover: number;
  luma: number;
  blue: number;
  red: number;
}

/**
 * A part of a picture without the veil of its silver. The veil over a place of lightness y is cover (1.15 - y) (its own - y): none on paper white, and the
 * most where there is the most silver. What was darker is found by solving for y.
 *
 * @param source with chroma for every pixel; holds the region.
 */
export function liftSilvering(source: Picture, region: Region, found: Silvering, how: Lifting): Picture {
  const out = copyPicture(source, region);
  const { black, luma: span, chroma } = codes(source.info.colour.range);
  const own = planeRegion(source.info, 0, region);
  const veils = veilsOf(found, how);
  if (!veils) return out;
  const [luma, blue, red] = out.planes.map(({ data }) => data);
  const columns = Array.from({ length: own.width }, (_, x) => tapsBetween((own.x + x + 0.5) / source.info.width, found.width));
  const veil: Veil = { cover: 0, luma: 0, blue: 0, red: 0 };
  for (let y = 0, i = 0; y < own.height; y++) {
    const row = tapsBetween((own.y + y + 0.5) / source.info.height, found.height);
    if (veils.rows[row[0]] + veils.rows[row[1]] === 0) {
      i += own.width;
      continue;
    }
    for (let x = 0; x < own.width; x++, i++) {
      if (!veilAt(veils, columns[x], row, veil)) continue;
      const seen = (luma[i] - black) / span;
      const was = darkerBy(seen, veil);
      luma[i] = sample(black + span * was);
      if (!blue) continue;
      const share = Math.min(1, Math.max(0, veil.cover * (LIGHT - was)));
      if (found.tone) {
        // What the veil adds goes over into the tone of the print, which may vary a little.
        blue[i] = sample(NEUTRAL_CHROMA + chroma * toneUnder((blue[i] - NEUTRAL_CHROMA) / chroma, toneAt(found.tone.blue, was), share));
        red[i] = sample(NEUTRAL_CHROMA + chroma * toneUnder((red[i] - NEUTRAL_CHROMA) / chroma, toneAt(found.tone.red, was), share));
        continue;
      }
      const left = Math.max(1 / DEEPEST, 1 - share);
      blue[i] = sample(NEUTRAL_CHROMA + (chroma * ((blue[i] - NEUTRAL_CHROMA) / chroma - share * veil.blue)) / left);
      red[i] = sample(NEUTRAL_CHROMA + (chroma * ((red[i] - NEUTRAL_CHROMA) / chroma - share * veil.red)) / left);
    }
  }
  return out;
}

/** A colour seen under a veil of such a cover, and what the print's tone is there. */
const toneUnder = (seen: number, tone: number, cover: number): number => seen + (tone - seen) * Math.min(1, cover / TONED);

const sample = (v: number): number => Math.min(65535, Math.max(0, Math.round(v)));

/** Lightness of what a veil has made so light, 0 to 1. */
function darkerBy(seen: number, { cover, luma }: Veil): number {
  // seen = y + cover (LIGHT - y) (luma - y), a parabola in y that may fall before it rises.
  const slope = 1 - cover * (LIGHT + luma);
  const under = (y: number): number => y + cover * (LIGHT - y) * (luma - y);
  const least = (1 / STEEPEST - slope) / (2 * cover);
  if (least > 0 && seen < under(least)) return Math.max(0, Math.min(seen, least - STEEPEST * (under(least) - seen)));
  const inside = slope * slope - 4 * cover * (cover * LIGHT * luma - seen);
  return Math.max(0, (Math.sqrt(Math.max(0, inside)) - slope) / (2 * cover));
}

/** Veils of the small raster, four values a place; whether a row of it has any. */
interface Veils {
  width: number;
  values: Float32Array;
  rows: Uint8Array;
}

/** @returns undefined where there is none. */
function veilsOf({ width, height, odds, strength, colour }: Silvering, how: Lifting): Veils | undefined {
  const values = new Float32Array(4 * width * height),
    rows = new Uint8Array(height);
  const wanted = EVEN_ODDS + ODDS_STEP * logOdds(how.sure);
  for (let i = 0; i < odds.length; i++) {
    const set = Math.min(1, Math.max(0, (odds[i] - wanted) / (ONSET * ODDS_STEP)));
    const cover = Math.min(0.9, set * how.strength * (strength[i] / 255));
    const [luma, blue, red] = colour.map((plane) => plane[i] / 255);
    values.set([cover, luma, blue - 0.5, red - 0.5], 4 * i);
    if (cover > 0) rows[Math.floor(i / width)] = 1;
  }
  return rows.includes(1) ? { width, values, rows } : undefined;
}

type Taps = ReturnType<typeof tapsBetween>;

/** Sets the veil between four places of the raster; false where there is none. */
function veilAt({ width, values }: Veils, [left, right, across]: Taps, [top, bottom, down]: Taps, veil: Veil): boolean {
  const a = 4 * (top * width + left),
    b = 4 * (top * width + right),
    c = 4 * (bottom * width + left),
    d = 4 * (bottom * width + right);
  if (values[a] + values[b] + values[c] + values[d] === 0) return false;
  const at = (n: number): number =>
    (values[a + n] * (1 - across) + values[b + n] * across) * (1 - down) + (values[c + n] * (1 - across) + values[d + n] * across) * down;
  veil.cover = at(0);
  veil.luma = at(1);
  veil.blue = at(2);
  veil.red = at(3);
  return veil.cover > 1e-4;
}
