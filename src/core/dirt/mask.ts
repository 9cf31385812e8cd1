import type { FoundDirt } from '../networks/dirt';
import { EVEN_ODDS, logOdds, ODDS_STEP } from '../networks/odds';
import type { Region } from '../picture/picture';
import { dilated } from '../fill/hole';
import { labelsOf } from '../fill/labels';
import { DIRT_KINDS, type DirtKind } from './kinds';
import { RIM_REACH, rimmed } from './rim';

/** How readily each kind is taken for damage: 0 never, 50 as the network reckons, 100 at the slightest doubt. */
export type Sensitivity = Record<DirtKind, number>;

/** What counts as damage among what was found. */
export interface DirtRule {
  /** Probability from which a pixel is damaged, 0 to 1. */
  sure: number;
  sensitivity: Sensitivity;
  /** Pixels that the mask is wider than what was found. */
  margin: number;
}

/** Natural logarithms of odds that the slider of a kind is worth at either end. */
const SENSITIVITY_REACH = 4;

/** How damage that is there for certain takes in what lies beside it. */
interface Beside {
  /** Logarithms of odds by which it is surer than it has to be. */
  surer: number;
  /** Side of the square round each pixel of it in which so many are certain, so that single ones do not count. */
  company: { side: number; fewest: number };
  /** Pixels within which what hangs on it is damage too, at odds that lack so many logarithms. */
  near: number;
  less: number;
}

const PAIR = { side: 3, fewest: 2 };
/**
 * A speck, crack or fold that is there for sure is found to its rim, or its rest would stay where it was mended; what is barely damage does not
 * spread over texture.
 */
const BESIDE: readonly Beside[] = [
  { surer: 0, company: PAIR, near: 6, less: 0.5 },
  { surer: 2, company: PAIR, near: 6, less: 2 },
];
/**
 * A stain is wide, and may stand out at one place alone: there it has to be surer than it need be, and the network of all damage has to hold it for damage
 * too, for jackets and chimneys look like stains to the other; then it reaches as far as it hangs together.
 */
const STAINED: Beside & { agreed: number } = { surer: 1.6, agreed: 0.7, company: { side: 7, fewest: 15 }, near: 144, less: 3.4 };
const STAINS = DIRT_KINDS.indexOf('stains'),
  SPECKS = DIRT_KINDS.indexOf('specks');
/** Odds at most of what the network of all damage alone calls a stain, for at its size petals and pebbles look like some: who raises the sensitivity finds it. */
const SEEMING = EVEN_ODDS - 2 * ODDS_STEP;

/** Pixels round a part that its mask depends on, for a rule's margin. */
export const maskReach = ({ margin, sensitivity }: DirtRule): number =>
  margin +
  RIM_REACH +
  Math.max(...[...BESIDE, ...(sensitivity.stains > 0 ? [STAINED] : [])].map(({ near, company }) => near + (company.side - 1) / 2));

/** Least `FoundDirt.odds` of each kind. */
export function leastOdds({ sure, sensitivity }: DirtRule): number[] {
  const wanted = logOdds(sure);
  return DIRT_KINDS.map((kind) => {
    const given = sensitivity[kind];
    if (given === 0) return Infinity;
    return EVEN_ODDS + ODDS_STEP * (wanted - ((given - 50) / 50) * SENSITIVITY_REACH);
  });
}

/** 1 where what was found is damage by a rule, as `dirtMasks`; the outermost `maskReach` pixels may lack some. */
export const dirtMask = (found: FoundDirt, rule: DirtRule, luma?: Uint16Array): Uint8Array<ArrayBuffer> =>
  dirtMasks(found, rule, luma).mask;

export interface DirtMasks {
  mask: Uint8Array<ArrayBuffer>;
  /** Not 0 where damage is a stain and nothing else: it is lifted there, not filled. */
  stained: Uint8Array<ArrayBuffer>;
}

/**
 * Where what was found is damage by a rule, and where it is stained.
 * @param luma of the region, by which damage is followed to its rim; left as it was found without.
 */
export function dirtMasks({ region, odds, kind, stains }: FoundDirt, rule: DirtRule, luma?: Uint16Array): DirtMasks {
  const { width, height } = region;
  const least = leastOdds(rule);
  const mask = new Uint8Array(width * height),
    stained = new Uint8Array(width * height);
  const reaching = (more: number): Uint8Array => reachingOfKind(odds, kind, least, more * ODDS_STEP);
  for (const { surer, company, near, less } of BESIDE) {
    const certain = reaching(surer);
    if (!certain.includes(1)) continue;
    const around = dilated(withCompany(certain, width, height, company), width, height, near),
      possible = reaching(-less);
    for (let i = 0; i < mask.length; i++) mask[i] |= around[i] & possible[i];
  }
  const margined = (each: Uint8Array<ArrayBuffer>): Uint8Array<ArrayBuffer> =>
    rule.margin > 0 ? dilated(each, width, height, rule.margin) : each;
  const whole = (): Uint8Array<ArrayBuffer> => {
    if (!luma) return margined(mask);
    // Lines are found as wide as they are; spots have an outline that would stay.
    const spots = mask.map((v, i) => v & Number(kind[i] === SPECKS));
    const rim = rimmed(spots, luma, width, height);
    return margined(mask.map((v, i) => v | rim[i]));
  };
  if (least[STAINS] === Infinity) return { mask: whole(), stained };
  const stainsReaching = (more: number): Uint8Array => reachingOne(stains, least[STAINS] + more * ODDS_STEP);
  const certain = stainsReaching(STAINED.surer),
    agreed = reachingOne(odds, least[STAINS] + STAINED.agreed * ODDS_STEP);
  for (let i = 0; i < certain.length; i++) certain[i] &= agreed[i];
  if (certain.includes(1)) {
    const reached = hangingOn(
      withCompany(certain, width, height, STAINED.company),
      stainsReaching(-STAINED.less),
      width,
      height,
      STAINED.near,
    );
    stained.set(reached);
  }
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i] || kind[i] !== STAINS) continue;
    stained[i] = 1;
    mask[i] = 0;
  }
  // Most parts have none, and tiles of large scans are looked at far round.
  if (!stained.includes(1)) return { mask: whole(), stained };
  const others = whole(),
    wide = margined(stained);
  return { mask: others.map((v, i) => v | wide[i]), stained: wide.map((v, i) => v & ~others[i]) };
}

/** What is possible and hangs on what is certain, over so many steps to neighbours at most. */
function hangingOn(certain: Uint8Array, possible: Uint8Array, width: number, height: number, most: number): Uint8Array {
  const out = new Uint8Array(certain.length);
  let edge: number[] = [];
  const add = (i: number): void => {
    if (out[i] || !possible[i]) return;
    out[i] = 1;
    edge.push(i);
  };
  certain.forEach((v, i) => v && add(i));
  for (let step = 0; step < most && edge.length > 0; step++) {
    const from = edge;
    edge = [];
    for (const i of from) {
      const x = i % width,
        y = Math.floor(i / width);
      for (let row = Math.max(0, y - 1); row <= Math.min(height - 1, y + 1); row++)
        for (let column = Math.max(0, x - 1); column <= Math.min(width - 1, x + 1); column++) add(row * width + column);
    }
  }
  return out;
}

function reachingOne(odds: Uint8Array, least: number): Uint8Array {
  const out = new Uint8Array(odds.length);
  for (let i = 0; i < odds.length; i++) if (odds[i] >= least) out[i] = 1;
  return out;
}

/** 1 where odds reach the least of their kind and so much more. */
function reachingOfKind(odds: Uint8Array, kind: Uint8Array, least: readonly number[], more: number): Uint8Array {
  const out = new Uint8Array(odds.length);
  const wanted = Float64Array.from(least, (v) => v + more),
    lowest = Math.min(...wanted);
  for (let i = 0; i < odds.length; i++) {
    if (odds[i] < lowest) continue;
    if ((kind[i] === STAINS ? Math.min(SEEMING, odds[i]) : odds[i]) >= wanted[kind[i]]) out[i] = 1;
  }
  return out;
}

/** What is set and has so many set in the square round it, itself among them. */
function withCompany(mask: Uint8Array, width: number, height: number, { side, fewest }: Beside['company']): Uint8Array {
  const out = new Uint8Array(mask.length);
  const reach = (side - 1) / 2;
  for (let y = reach; y < height - reach; y++) {
    for (let x = reach; x < width - reach; x++) {
      const i = y * width + x;
      if (!mask[i]) continue;
      let count = 0;
      for (let row = i - reach * width; row <= i + reach * width; row += width)
        for (let n = row - reach; n <= row + reach; n++) count += mask[n];
      if (count >= fewest) out[i] = 1;
    }
  }
  return out;
}

/** A piece of damage that hangs together. */
export interface DirtPiece {
  kind: DirtKind;
  /** In the frame. */
  box: Region;
  pixels: number;
}

/**
 * The pieces of damage in a mask, each of the kind most of it is mended as.
 * @param least pixels a piece has at least.
 */
export function dirtPieces({ mask, stained }: DirtMasks, { region, kind }: Pick<FoundDirt, 'region' | 'kind'>, least = 1): DirtPiece[] {
  const { width, height } = region;
  const labels = labelsOf(mask, width, height);
  const pieces = new Map<number, { left: number; top: number; right: number; bottom: number; pixels: number; kinds: Uint32Array }>();
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!mask[i]) continue;
      const name = labels[i];
      let piece = pieces.get(name);
      if (!piece) {
        piece = { left: x, top: y, right: x, bottom: y, pixels: 0, kinds: new Uint32Array(DIRT_KINDS.length) };
        pieces.set(name, piece);
      }
      piece.left = Math.min(piece.left, x);
      piece.right = Math.max(piece.right, x);
      piece.bottom = y;
      piece.pixels++;
      piece.kinds[stained[i] ? STAINS : kind[i]]++;
    }
  }
  return [...pieces.values()]
    .filter(({ pixels }) => pixels >= least)
    .map(({ left, top, right, bottom, pixels, kinds }) => ({
      kind: DIRT_KINDS[kinds.indexOf(Math.max(...kinds))],
      box: { x: region.x + left, y: region.y + top, width: right - left + 1, height: bottom - top + 1 },
      pixels,
    }));
}

/** How many pieces there are of each kind. */
export function countPieces(pieces: DirtPiece[]): Record<DirtKind, number> {
  return Object.fromEntries(DIRT_KINDS.map((kind) => [kind, pieces.filter((p) => p.kind === kind).length])) as Record<DirtKind, number>;
}
