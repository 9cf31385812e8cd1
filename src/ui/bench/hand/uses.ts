import type { StrokeUse } from '../../../shared/marks';

/** What strokes of a step may be for. */
export interface UseWords {
  use: StrokeUse;
  /** In the choice of what is marked. */
  label: string;
  /** In the list of marks. */
  name: string;
  help: string;
}

const DIRT_USES: UseWords[] = [
  { use: 'keep', label: 'no damage', name: 'kept', help: 'Paint over what was taken for damage and is none: a scar, a mole, a twig' },
  { use: 'damage', label: 'damage', name: 'damage', help: 'Paint over damage that was not found: it is filled from what surrounds it' },
  {
    use: 'stain',
    label: 'stain',
    name: 'stain',
    help: 'Paint over a stain and a little beyond its border: it is lifted, and what shows through it stays',
  },
];

const HEAL_USES: UseWords[] = [
  { use: 'heal', label: 'fault', name: 'fault', help: 'Click or paint over a fault: it is filled from what surrounds it' },
  {
    use: 'remove',
    label: 'thing',
    name: 'thing',
    help: 'Paint over something that shall go, such as a date stamp, or a corner that is gone: lines and planes go on, then texture',
  },
  {
    use: 'tone',
    label: 'loss',
    name: 'toned',
    help: 'Paint over a part that is gone: it is left as paper in the tone of what lies round it, and nothing is made up',
  },
];

const SUBJECT_USES: UseWords[] = [
  { use: 'subject', label: 'subject', name: 'subject', help: 'Paint over what belongs to the people and was taken for background' },
  { use: 'ground', label: 'background', name: 'background', help: 'Paint over what was taken for people and is background' },
];

const COLOUR_USES: UseWords[] = [
  {
    use: 'colour',
    label: 'colour',
    name: 'colour',
    help: 'Click or paint what had a colour: it spreads as far as lightness goes on alike',
  },
  {
    use: 'tint',
    label: 'tint',
    name: 'tint',
    help: 'Paint a colour just where the brush goes, such as lips or cheeks: it does not spread',
  },
  {
    use: 'area',
    label: 'area',
    name: 'area',
    help: 'Click into a sky, a wall, a coat: all of it that hangs together is tinted, up to its edges or a border that is drawn',
  },
  { use: 'neutral', label: 'none', name: 'no colour', help: 'Click or paint what has no colour: steel, stone, a white shirt' },
  { use: 'bar', label: 'border', name: 'border', help: 'Draw a line that colours do not cross, where no edge is seen' },
];

const USES: Record<string, UseWords[]> = { dirt: DIRT_USES, background: SUBJECT_USES, colourise: COLOUR_USES };

/** By treatment: what its strokes are for, the usual first. */
export const usesOf = (treatment: string): UseWords[] => USES[treatment] ?? HEAL_USES;
