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
  { use: 'damage', label: 'damage', name: 'damage', help: 'Paint over damage that was not found' },
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

const USES: Record<string, UseWords[]> = { dirt: DIRT_USES, background: SUBJECT_USES };

/** By treatment: what its strokes are for, the usual first. */
export const usesOf = (treatment: string): UseWords[] => USES[treatment] ?? HEAL_USES;
