import { useMemo } from 'react';
import { useCommands, type Command } from '../../parts/commands';
import { redo, undo } from './historyActions';
import { allSteps } from '../../../shared/plan';
import { addStep, duplicateStep, forkStep, stepFor, switchEntry } from './planActions';
import { FIRST_HAND, infoOf, useBenchStore, useBench, type Bench, type CompareMode } from './store';
import type { Stretch } from '../time/stretch';

export const ZOOMS: { zoom: number | 'fit'; label: string; key: string }[] = [
  { zoom: 'fit', label: 'Fit', key: '0' },
  { zoom: 1, label: '100', key: '1' },
  { zoom: 2, label: '200', key: '2' },
  { zoom: 4, label: '400', key: '4' },
];

/** A named zoom, about the loupe: that is where one is looking. */
export function setZoom(bench: Bench, zoom: number | 'fit'): void {
  const { view, loupe } = bench.getState();
  const about = view.zoom === 'fit' ? loupe : view;
  bench.setState({ view: zoom === 'fit' ? { zoom, u: 0.5, v: 0.5 } : { zoom, u: about.u, v: about.v } });
}

export function stepFrame(bench: Bench, by: number): void {
  goTo(bench, bench.getState().frame + by);
}

export function goTo(bench: Bench, frame: number): void {
  const { output } = bench.getState();
  bench.setState({ frame: Math.max(0, Math.min(output.frames - 1, Math.round(frame))), playing: 0, watching: false });
}

/** Plays the source with its sound from the frame in view on, or stops it there. */
export const watch = (bench: Bench): void => bench.setState(({ watching }) => ({ watching: !watching, playing: 0 }));

/** Sets one end of the range to a frame, the present one unless told otherwise; the other end gives way. */
export function markRange(bench: Bench, end: 'first' | 'last', at = bench.getState().frame): void {
  const { range, output } = bench.getState();
  const frame = Math.max(0, Math.min(output.frames - 1, Math.round(at)));
  const first = end === 'first' ? frame : Math.min(range?.first ?? 0, frame);
  const last = end === 'last' ? frame : Math.max(range?.last ?? output.frames - 1, frame);
  bench.setState({ range: { first, last } });
}

const MODES: CompareMode[] = ['split', 'pair', 'single', 'difference', 'flicker'];

/** What the bench's own dialogs and panels are opened by. */
export interface BenchDoors {
  queue(): void;
  strips(): void;
  template(): void;
  split(): void;
}

const picture = (bench: Bench): Command[] => [
  ...ZOOMS.map(({ zoom, label, key }): Command => ({
    id: `zoom-${label}`,
    name: zoom === 'fit' ? 'Fit the picture' : `Zoom ${label} %`,
    group: 'Picture',
    keys: [key],
    shown: key,
    run: () => setZoom(bench, zoom),
  })),
  {
    id: 'hold',
    name: 'The source instead of the result, while held',
    group: 'Picture',
    keys: ['s'],
    shown: 'S, held',
    run: () => bench.setState({ holding: true }),
    released: () => bench.setState({ holding: false }),
  },
  {
    id: 'compare',
    name: 'Next way of comparing',
    group: 'Picture',
    keys: ['c'],
    shown: 'C',
    run: () => bench.setState(({ mode }) => ({ mode: MODES[(MODES.indexOf(mode) + 1) % MODES.length] })),
  },
  {
    id: 'turn',
    name: 'Turn the split line',
    group: 'Picture',
    keys: ['v'],
    shown: 'V',
    run: () => bench.setState(({ way }) => ({ mode: 'split', way: way === 'upright' ? 'level' : 'upright' })),
  },
  {
    id: 'evidence',
    name: 'Evidence: what was added to the source',
    group: 'Picture',
    keys: ['e'],
    shown: 'E',
    run: () => bench.setState(({ evidence }) => ({ evidence: !evidence })),
  },
];

function time(bench: Bench, stretch: Stretch): Command[] {
  const second = (): number => {
    const { output } = bench.getState();
    return Math.max(1, Math.round(output.rate.num / Math.max(1, output.rate.den)));
  };
  const command = (id: string, name: string, keys: string[], shown: string, run: () => void): Command => ({
    ...{ id, name, keys, shown, run },
    group: 'Running time',
  });
  return [
    command('back', 'Play backwards', ['j'], 'J', () => bench.setState({ playing: -1 })),
    command('stop', 'Stop', ['k'], 'K', () => bench.setState({ playing: 0, watching: false })),
    command('play', 'Play', ['l'], 'L', () => bench.setState({ playing: 1 })),
    command('watch', 'Watch the source with its sound, or stop it', ['shift+l'], 'Shift L', () => watch(bench)),
    command('frame-back', 'One frame back', ['arrowleft'], '←', () => stepFrame(bench, -1)),
    command('frame-on', 'One frame on', ['arrowright'], '→', () => stepFrame(bench, 1)),
    command('second-back', 'One second back', ['shift+arrowleft'], 'Shift ←', () => stepFrame(bench, -second())),
    command('second-on', 'One second on', ['shift+arrowright'], 'Shift →', () => stepFrame(bench, second())),
    command('first', 'First frame', ['home'], 'Home', () => goTo(bench, 0)),
    command('last', 'Last frame', ['end'], 'End', () => goTo(bench, Infinity)),
    command('in', 'Start the range here', ['i'], 'I', () => markRange(bench, 'first')),
    command('out', 'End the range here', ['o'], 'O', () => markRange(bench, 'last')),
    command('no-range', 'Drop the range', ['x'], 'X', () => bench.setState({ range: undefined })),
    command('proof', 'Proof the range and play it', ['p'], 'P', () => stretch.toggle()),
  ];
}

/** Opens Heal, in its place where it is not there yet, and takes up the brush; lays it down when it is taken up already. */
function markByHand(bench: Bench): void {
  const { hand, opened } = bench.getState();
  const owner = stepFor(bench, 'heal');
  if (!owner) return;
  const taken = hand?.owner === owner && opened === owner;
  bench.setState({ opened: owner, hand: taken ? undefined : { owner, use: 'heal', ...FIRST_HAND }, brush: undefined });
}

/** How much wider or narrower one key makes the brush. */
const BRUSH_STEP = 1.2;

const sized = <T extends { size: number }>(b: T, by: number): T => ({ ...b, size: Math.min(1, Math.max(0.001, b.size * by)) });

const brush = (bench: Bench): Command[] =>
  [
    { id: 'brush-wider', name: 'A wider brush', keys: ['+'], shown: '+', by: BRUSH_STEP },
    { id: 'brush-narrower', name: 'A narrower brush', keys: ['-'], shown: '-', by: 1 / BRUSH_STEP },
  ].map(({ by, ...command }) => ({
    ...command,
    group: 'Masks',
    run: () => bench.setState(({ brush: b, hand: h }) => ({ brush: b && sized(b, by), hand: h && sized(h, by) })),
  }));

/** Everything that can be done on the bench by key or by name. */
export function useBenchCommands(stretch: Stretch, doors: BenchDoors): void {
  const bench = useBenchStore();
  const moving = useBench((s) => s.output.frames > 1);
  const painting = useBench((s) => s.brush !== undefined || s.hand !== undefined);
  const treatments = useBench((s) => s.treatments);
  const plan = useBench((s) => s.plan);
  const commands = useMemo((): Command[] => {
    const ofPlan: Command[] = [
      { id: 'undo', name: 'Undo', group: 'Plan', keys: ['ctrl+z'], shown: 'Ctrl Z', run: () => undo(bench) },
      { id: 'redo', name: 'Redo', group: 'Plan', keys: ['ctrl+shift+z', 'ctrl+y'], shown: 'Ctrl Shift Z', run: () => redo(bench) },
      { id: 'strip', name: 'Test strip…', group: 'Plan', keys: ['t'], shown: 'T', run: doors.strips },
      { id: 'queue', name: 'Add to queue…', group: 'Plan', keys: ['q'], shown: 'Q', run: doors.queue },
      { id: 'template', name: 'Keep the plan as a template…', group: 'Plan', run: doors.template },
    ];
    const ofSteps = allSteps(plan).flatMap((step): Command[] => {
      const { name } = infoOf(bench.getState(), step);
      return [
        { id: `open-${step.id}`, name: `${name}: settings`, group: 'Steps', run: () => bench.setState({ opened: step.id }) },
        { id: `switch-${step.id}`, name: `${name}: ${step.on ? 'off' : 'on'}`, group: 'Steps', run: () => switchEntry(bench, step.id) },
        { id: `twice-${step.id}`, name: `${name}: duplicate`, group: 'Steps', run: () => duplicateStep(bench, step.id) },
        { id: `fork-${step.id}`, name: `${name}: fork`, group: 'Steps', run: () => forkStep(bench, step.id) },
      ];
    });
    const adding = treatments.map((t): Command => ({
      id: `add-${t.id}`,
      name: `Add ${t.name}, for ${t.answers}`,
      group: 'Treatments',
      run: () => addStep(bench, t.id),
    }));
    const marking: Command = {
      id: 'mark',
      name: 'Mark faults by hand',
      group: 'Picture',
      keys: ['m'],
      shown: 'M',
      run: () => markByHand(bench),
    };
    const splitting: Command = { id: 'split', name: 'Split the item here…', group: 'Running time', run: doors.split };
    return [
      ...picture(bench),
      ...(painting ? brush(bench) : []),
      ...(moving ? [...time(bench, stretch), splitting] : [marking]),
      ...ofPlan,
      ...ofSteps,
      ...adding,
    ];
  }, [bench, stretch, doors, moving, painting, treatments, plan]);
  useCommands(commands);
}
