import { EVEN_ODDS, ODDS_STEP } from '../networks/odds';
import type { Picture } from '../picture/picture';
import { findSilvering, type Silvering } from './find';

/** Silvering of a print, as its condition report tells it. */
export interface SilveringReading {
  /** Percent of the picture. */
  share: number;
  /** Edges along which it is. */
  edges: Edge[];
}

const EDGES = ['left', 'right', 'upper', 'lower'] as const;
type Edge = (typeof EDGES)[number];

/** Logarithm of odds from which a place counts, and covers from which it shows. */
const COUNTED = 2,
  SHOWN = 26;
/** Share of a side that is taken for its edge, a card round the print included, and how much of that must be veiled. */
const ALONG = 0.12,
  LEAST_ALONG = 0.2;
/** Percent of a picture from which silvering is told: of 120 clean pictures eight reach it, of 31 silvered ones nineteen. */
const TOLD_FROM = 0.5;

/** Whether a print is silvered, as far as can be told. */
export const isSilvered = ({ share }: SilveringReading): boolean => share >= TOLD_FROM;

/** @throws NetworkError when the network cannot be used. */
export const measureSilvering = async (picture: Picture): Promise<SilveringReading> => readingOf(await findSilvering(picture));

export function readingOf({ width, height, odds, strength }: Silvering): SilveringReading {
  const veiled = odds.map((v, i) => Number(v >= EVEN_ODDS + COUNTED * ODDS_STEP && strength[i] >= SHOWN));
  const [deep, high] = [width, height].map((side) => Math.max(2, Math.round(ALONG * side)));
  const parts: Record<Edge, (x: number, y: number) => boolean> = {
    left: (x) => x < deep,
    right: (x) => x >= width - deep,
    upper: (_, y) => y < high,
    lower: (_, y) => y >= height - high,
  };
  const edges = EDGES.filter((edge) => {
    let hit = 0,
      all = 0;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        if (!parts[edge](x, y)) continue;
        all++;
        hit += veiled[i];
      }
    return hit >= LEAST_ALONG * all;
  });
  return { share: (100 * veiled.reduce((sum, v) => sum + v, 0)) / veiled.length, edges };
}

/** Where it is: "along the left and upper edges". */
export function silveringWords({ edges }: SilveringReading): string {
  if (edges.length === EDGES.length) return 'along all edges';
  if (edges.length === 0) return 'inside the picture';
  const [last, ...others] = [...edges].reverse();
  return `along the ${others.length ? `${others.reverse().join(', ')} and ${last} edges` : `${last} edge`}`;
}
