import { areaPicture, reducedPicture } from '../picture/reduced';
import { withFinerChroma } from '../picture/chroma';
import { NEUTRAL_CHROMA, type Picture, wholeRegion } from '../picture/picture';
import { codes } from '../picture/matrix';
import { FINDING_CHANNELS, findingPlanes } from '../networks/findingPlanes';
import { network } from '../networks/model';
import { asOdds, EVEN_ODDS, ODDS_STEP } from '../networks/odds';
import { type PrintTone, toneOf } from './tone';

/**
 * Silver that came to the surface of a print, from its edges inwards: a veil over what is dark, lighter and bluer than it. Told for each place of a
 * small raster of the whole picture.
 */
export interface Silvering {
  width: number;
  height: number;
  /** Logarithm of the odds that it is veiled, see `asOdds`. */
  odds: Uint8Array;
  /** How far the veil covers what is black there, 255 for all of it. */
  strength: Uint8Array;
  /** The veil's own Y', Cb and Cr, 255 for one. */
  colour: [Uint8Array, Uint8Array, Uint8Array];
  /** Of a monochrome print. */
  tone?: PrintTone;
}

/** Longest side of the picture as the network looks at it, and the multiple that both of them are. */
const LONGEST = 320,
  GRID = 16;
/** Pixels of the shorter side below which a picture shows too little. */
const LEAST = 64;
/** Logarithm of odds against a veil from which a place is clear. */
const CLEAR = 2;
/** What the network's answers are counted from, and the share of one that its steps of colour are; `Silvering` in training/findingTasks.py says the same. */
const STRENGTH = 0.35,
  COLOUR = [0.62, 0.53, 0.48],
  COLOUR_STEP = 0.25;

/**
 * Looks for silvering in a whole picture. Without colour it is hardly told from a pale edge, and seldom found.
 * @throws NetworkError when the network cannot be used.
 */
export async function findSilvering(picture: Picture): Promise<Silvering> {
  const { width: wide, height: high } = picture.region;
  const by = Math.max(1, Math.max(wide, high) / LONGEST);
  const [width, height] = [wide, high].map((side) => Math.max(GRID, GRID * Math.floor(side / by / GRID)));
  if (Math.min(wide, high) < LEAST) return nothingFound(width, height);
  // By whole numbers first: the kernels would copy all of a large scan.
  const few = reducedPicture(picture, Math.floor(by / 2));
  const small = areaPicture(few, width, height) ?? areaPicture(withFinerChroma(few, 0, 0), width, height);
  if (!small) throw new RangeError(`a picture of ${wide} x ${high} pixels cannot be looked at in ${width} x ${height}`);
  const answer = await (
    await network('silvering')
  ).run(findingPlanes(small, wholeRegion(small.info)), FINDING_CHANNELS, height / 2, width / 2);
  const found = nothingFound(width, height);
  const planes = unfolded(answer, width, height);
  const [odds, strength, ...colour] = planes;
  const offset = Math.log(STRENGTH / (1 - STRENGTH));
  for (let i = 0; i < width * height; i++) {
    found.odds[i] = asOdds(odds[i]);
    found.strength[i] = Math.round(255 / (1 + Math.exp(-strength[i] - offset)));
    for (let c = 0; c < colour.length; c++)
      found.colour[c][i] = Math.min(255, Math.max(0, Math.round(255 * (COLOUR[c] + COLOUR_STEP * colour[c][i]))));
  }
  return { ...found, tone: toneUnder(small, found.odds) };
}

/** The tone of the print where it is clear of a veil. */
function toneUnder({ info, planes }: Picture, odds: Uint8Array): PrintTone | undefined {
  if (planes.length === 1) return undefined;
  const { black, luma: span, chroma } = codes(info.colour.range);
  const [luma, blue, red] = planes.map(({ data }, p) =>
    Float32Array.from(data, (v) => (p ? (v - NEUTRAL_CHROMA) / chroma : (v - black) / span)),
  );
  return toneOf(
    { luma, blue, red },
    odds.map((v) => Number(v < EVEN_ODDS - CLEAR * ODDS_STEP)),
  );
}

function nothingFound(width: number, height: number): Silvering {
  const plane = (): Uint8Array => new Uint8Array(width * height);
  return { width, height, odds: plane(), strength: plane(), colour: [plane(), plane(), plane()] };
}

/** Planes of the raster of which the network answers four of half the size each (pixel-shuffle). */
function unfolded(answer: Float32Array, width: number, height: number): Float32Array[] {
  const half = width / 2,
    size = half * (height / 2);
  return Array.from({ length: answer.length / (4 * size) }, (_, n) => {
    const plane = new Float32Array(4 * size);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) plane[i] = answer[(4 * n + (((y & 1) << 1) | (x & 1))) * size + (y >> 1) * half + (x >> 1)];
    return plane;
  });
}
