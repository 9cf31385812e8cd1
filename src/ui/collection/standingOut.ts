import type { Item } from '../../archive';

/** What some items of a collection have and most of the others have not: they are to be looked at by themselves. */
export interface StandingOut {
  /** What it is, in a few words. */
  words: string;
  /** Ids of the items. */
  items: string[];
  /** Items of their kind. */
  of: number;
}

/** Fewer items than this have no rule that one could stand out of, and what a larger share has is no exception. */
const LEAST = 8,
  RARE = 0.2;
/** Deviations from the middle, by the median of all deviations, from which on a figure stands out. */
const FAR = 6;

/** Width of a face, in pixels, under which little can be told of it. */
const SMALL_FACE = 40;

type Measured = Item & { condition: NonNullable<Item['condition']> };

/** Figures and how much they differ at least to stand out. */
const FIGURES: { words: string; of: (item: Measured) => number | undefined; least: number }[] = [
  { words: 'grain far above the others', of: ({ condition: { measurements: m } }) => m.grainLuma, least: 3 },
  { words: 'softer than the others', of: ({ condition: { measurements: m } }) => m.blur, least: 0.8 },
  { words: 'more damage than on the others', of: ({ condition: { measurements: m } }) => m.dirt?.share, least: 0.4 },
  { words: 'smaller than the others', of: ({ facts: { stream } }) => -Math.log2(stream.width * stream.height), least: 2 },
];

const TRAITS: { words: string; has: (item: Measured) => boolean }[] = [
  {
    words: 'several prints on one scan',
    has: ({ condition: { measurements: m }, facts }) => (m.papers?.length ?? 0) > 1 && !facts.part?.print,
  },
  { words: 'a printing screen', has: ({ condition: { findings } }) => findings.some((f) => f.id === 'halftone') },
  { words: `faces under ${SMALL_FACE} px`, has: ({ condition: { measurements: m } }) => (m.faces?.least ?? Infinity) < SMALL_FACE },
  { words: 'monochrome among colours', has: ({ condition: { measurements: m } }) => m.monochrome },
  { words: 'in colours among monochromes', has: ({ condition: { measurements: m } }) => !m.monochrome },
  { words: 'a damaged file', has: ({ facts }) => facts.damage.length > 0 },
];

const middle = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];

/** Items whose measurements stand out of those of their kind, stills and moving images apart. */
export function standingOut(items: Item[]): StandingOut[] {
  return (['still', 'moving'] as const).flatMap((kind) => {
    const own = items.filter((item): item is Measured => item.kind === kind && item.condition !== null);
    if (own.length < LEAST) return [];
    const told = (words: string, chosen: Measured[]): StandingOut[] =>
      chosen.length > 0 && chosen.length <= RARE * own.length ? [{ words, items: chosen.map(({ id }) => id), of: own.length }] : [];
    const figures = FIGURES.flatMap(({ words, of, least }) => {
      const read = own.flatMap((item) => {
        const value = of(item);
        return value === undefined ? [] : [{ item, value }];
      });
      if (read.length < LEAST) return [];
      const usual = middle(read.map(({ value }) => value));
      const spread = middle(read.map(({ value }) => Math.abs(value - usual)));
      return told(
        words,
        read.filter(({ value }) => value - usual > Math.max(least, FAR * spread)).map(({ item }) => item),
      );
    });
    return [...TRAITS.flatMap(({ words, has }) => told(words, own.filter(has))), ...figures];
  });
}
