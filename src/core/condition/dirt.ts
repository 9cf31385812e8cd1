import { FINDING_CELL, findDirt, FINDING_REACH, findingSize } from '../dirt/find';
import { tilesOf } from '../graph/tiled';
import { DIRT_KINDS, DIRT_NAMES, type DirtKind } from '../dirt/kinds';
import { countPieces, dirtMasks, dirtPieces } from '../dirt/mask';
import { dirtRule, DirtSettings } from '../treatments/dirt/dirt';
import { EVEN_ODDS, ODDS_STEP } from '../networks/odds';
import { cutPicture, growRegion, wholeRegion, type Picture, type Region } from '../picture/picture';

/** Damage of a print or a negative. */
export interface DirtReading {
  /** Percent of its pixels. */
  share: number;
  /** Pieces of each kind; reckoned from a part of the picture where it is large. */
  counts: Record<DirtKind, number>;
  /** Whether only parts were looked at. */
  sampled: boolean;
  /**
   * Share of what may be damage that surely is, 0 to 1, stains apart. Prints show less than a scan of them could, and damage that lies on them stands out;
   * where the picture is as sharp as its damage, much may be damage and little surely is. 0 where there is next to nothing, and in small pictures.
   */
  sure: number;
}

const STAINS = DIRT_KINDS.indexOf('stains');
/** Pixels that are looked at; of larger pictures about so many in cells spread over them. */
const MAX_PIXELS = 2_500_000;
/** Logarithms of odds from which a pixel may be damage, and surely is; percent of a picture that must surely be for it to say anything. */
const MAYBE = -1,
  SURELY = 3,
  LEAST_SURE = 0.02;
/** Pixels of the shorter side under which a picture shows too little for anything to be sure: in small drawings a line may pass for a fold. */
const LARGE_ENOUGH = 300;
/** Pixels of a piece that counts. */
const LEAST_PIXELS = 4;

/**
 * Counts damage by kind, as Dirt would find it untouched.
 * @throws NetworkError when the network cannot be used.
 */
export async function measureDirt(picture: Picture): Promise<DirtReading> {
  const { info } = picture;
  const rule = { ...dirtRule(new DirtSettings()), margin: 0 };
  const counts = Object.fromEntries(DIRT_KINDS.map((kind) => [kind, 0])) as Record<DirtKind, number>;
  const at = findingSize('fast', info);
  const all = info.width * info.height;
  const parts = spread(tilesOf(wholeRegion(info), FINDING_CELL), Math.ceil(all / MAX_PIXELS));
  let damaged = 0,
    looked = 0,
    maybe = 0,
    surely = 0;
  for (const part of parts) {
    const found = await findDirt(cutPicture(picture, growRegion(part, FINDING_REACH[at], 2, info)), part, { size: at });
    const { odds, kind } = found;
    for (let i = 0; i < odds.length; i++) {
      if (odds[i] < EVEN_ODDS + MAYBE * ODDS_STEP || kind[i] === STAINS) continue;
      maybe++;
      if (odds[i] >= EVEN_ODDS + SURELY * ODDS_STEP) surely++;
    }
    const pieces = dirtPieces(dirtMasks(found, rule), found, LEAST_PIXELS);
    for (const [kind, n] of Object.entries(countPieces(pieces))) counts[kind as DirtKind] += n;
    damaged += pieces.reduce((sum, { pixels }) => sum + pixels, 0);
    looked += part.width * part.height;
  }
  const sampled = looked < all;
  for (const kind of DIRT_KINDS) counts[kind] = Math.round((counts[kind] * all) / looked);
  const tells = Math.min(info.width, info.height) >= LARGE_ENOUGH && (100 * surely) / looked >= LEAST_SURE;
  return { share: (100 * damaged) / looked, counts, sampled, sure: tells ? surely / maybe : 0 };
}

/** One in so many cells, those of a row apart from those above. */
const spread = (cells: Region[], stride: number): Region[] => cells.filter((_, n) => n % stride === Math.floor(n / 7) % stride);

/** What is there, the most first: "312 specks, 4 hairs". */
export function dirtWords({ counts, sampled }: DirtReading): string {
  const there = DIRT_KINDS.filter((kind) => counts[kind] > 0).sort((a, b) => counts[b] - counts[a]);
  if (there.length === 0) return 'none seen';
  return `${sampled ? 'about ' : ''}${there.map((kind) => `${counts[kind]} ${wordOf(kind, counts[kind])}`).join(', ')}`;
}

function wordOf(kind: DirtKind, count: number): string {
  const name = DIRT_NAMES[kind].toLowerCase().split(',')[0];
  return count === 1 ? name.replace(/(ch)?es$|s$/, '$1') : name;
}
