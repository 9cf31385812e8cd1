import { type Tones, tonesOf, wholeRegion } from '../../core';
import type { Analysis } from './analysis';
import { bytesOf, bytesText } from './bytes';

type KeptTones = Omit<Tones, 'luma' | 'kept'> & { luma: string; kept: string };

/** Lightness of a still on a small raster, and what colours it has of its own. */
export const tonesAnalysis: Analysis<Tones> = {
  id: 'tones',
  version: 1,
  name: 'lightness',
  needs: [],
  measure: async ({ node }) => tonesOf(await node.frame(0, wholeRegion(node.stream))),
  encode: (tones): KeptTones => ({ ...tones, luma: bytesText(tones.luma), kept: bytesText(tones.kept) }),
  decode(kept) {
    const tones = kept as KeptTones;
    return { ...tones, luma: bytesOf(tones.luma), kept: bytesOf(tones.kept) };
  },
};
