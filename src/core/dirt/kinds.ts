/** Damage that is found on prints and negatives, in the order of the network's answers. */
export const DIRT_KINDS = ['specks', 'hairs', 'scratches', 'folds', 'cracks', 'stains'] as const;

export type DirtKind = (typeof DIRT_KINDS)[number];

/** Each kind as it is called on screen. */
export const DIRT_NAMES: Record<DirtKind, string> = {
  specks: 'Specks',
  hairs: 'Hairs',
  scratches: 'Scratches',
  folds: 'Folds, tears',
  cracks: 'Cracks',
  stains: 'Stains, mould',
};
