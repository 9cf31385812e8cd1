import { findSilvering, type Silvering, wholeRegion } from '../../core';
import type { Analysis } from './analysis';
import { bytesOf, bytesText } from './bytes';

type KeptSilvering = Omit<Silvering, 'odds' | 'strength' | 'colour'> & { odds: string; strength: string; colour: string[] };

/** Where the silver of a still came to its surface. */
export const silveringAnalysis: Analysis<Silvering> = {
  id: 'silvering',
  version: 1,
  name: 'silvering',
  needs: [],
  measure: async ({ node }) => findSilvering(await node.frame(0, wholeRegion(node.stream))),
  encode: ({ odds, strength, colour, ...rest }): KeptSilvering => ({
    ...rest,
    odds: bytesText(odds),
    strength: bytesText(strength),
    colour: colour.map(bytesText),
  }),
  decode(kept) {
    const { odds, strength, colour, ...rest } = kept as KeptSilvering;
    return { ...rest, odds: bytesOf(odds), strength: bytesOf(strength), colour: colour.map(bytesOf) as Silvering['colour'] };
  },
};
