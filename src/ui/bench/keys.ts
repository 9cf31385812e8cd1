import { useEffect } from 'react';
import { redo, undo } from './planActions';
import { useBenchStore, type Bench } from './store';
import type { Stretch } from './stretch';

export const ZOOMS: { zoom: number | 'fit'; label: string; key: string }[] = [
  { zoom: 'fit', label: 'Fit', key: '0' },
  { zoom: 1, label: '100', key: '1' },
  { zoom: 2, label: '200', key: '2' },
  { zoom: 4, label: '400', key: '4' },
];

/** The keys of the bench, as the list of them is shown. */
export const SHORTCUTS: { keys: string; does: string }[] = [
  { keys: 'J  K  L', does: 'play backwards, stop, play' },
  { keys: '← →', does: 'one frame back, one on; with Shift, one second' },
  { keys: 'Home End', does: 'first frame, last frame' },
  { keys: 'I  O', does: 'start and end of the range; X drops it' },
  { keys: 'P', does: 'proof the range and play it' },
  { keys: 'S, held', does: 'the source instead of the result' },
  { keys: 'C', does: 'next way of comparing' },
  { keys: 'E', does: 'evidence: what was added to the source' },
  { keys: '0 1 2 4', does: 'fit, 100, 200, 400 %' },
  { keys: 'Ctrl Z', does: 'undo; with Shift, redo' },
  { keys: 'Wheel, drag', does: 'zoom at the pointer, move the picture' },
  { keys: 'Double click', does: 'brings the loupe' },
  { keys: '?', does: 'this list' },
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
  bench.setState({ frame: Math.max(0, Math.min(output.frames - 1, Math.round(frame))), playing: 0 });
}

/** Sets one end of the range to the present frame; the other end gives way. */
export function markRange(bench: Bench, end: 'first' | 'last'): void {
  const { frame, range, output } = bench.getState();
  const first = end === 'first' ? frame : Math.min(range?.first ?? 0, frame);
  const last = end === 'last' ? frame : Math.max(range?.last ?? output.frames - 1, frame);
  bench.setState({ range: { first, last } });
}

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) && (target as HTMLInputElement).type !== 'checkbox'));

/** Listens to the bench's keys while it is on screen. */
export function useBenchKeys(stretch: Stretch, showList: () => void): void {
  const bench = useBenchStore();
  useEffect(() => {
    const second = (): number => {
      const { output } = bench.getState();
      return Math.max(1, Math.round(output.rate.num / Math.max(1, output.rate.den)));
    };
    const moving = (): boolean => bench.getState().output.frames > 1;
    const actions: Record<string, (event: KeyboardEvent) => void> = {
      j: () => moving() && bench.setState({ playing: -1 }),
      k: () => bench.setState({ playing: 0 }),
      l: () => moving() && bench.setState({ playing: 1 }),
      arrowleft: (e) => stepFrame(bench, e.shiftKey ? -second() : -1),
      arrowright: (e) => stepFrame(bench, e.shiftKey ? second() : 1),
      home: () => goTo(bench, 0),
      end: () => goTo(bench, Infinity),
      i: () => moving() && markRange(bench, 'first'),
      o: () => moving() && markRange(bench, 'last'),
      x: () => bench.setState({ range: undefined }),
      p: () => moving() && stretch.toggle(),
      e: () => bench.setState(({ evidence }) => ({ evidence: !evidence })),
      s: () => bench.setState({ holding: true }),
      c: () => bench.setState(({ mode }) => ({ mode: mode === 'split' ? 'pair' : mode === 'pair' ? 'single' : 'split' })),
      '?': showList,
    };
    for (const { zoom, key } of ZOOMS) actions[key] = () => setZoom(bench, zoom);
    const down = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || document.querySelector('[role="dialog"]')) return;
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z') {
        event.preventDefault();
        (event.shiftKey ? redo : undo)(bench);
        return;
      }
      if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
      const action = actions[event.key.toLowerCase()];
      if (!action) return;
      event.preventDefault();
      action(event);
    };
    const up = (event: KeyboardEvent): void => {
      if (event.key.toLowerCase() === 's') bench.setState({ holding: false });
    };
    const away = (): void => bench.setState({ holding: false });
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', away);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', away);
    };
  }, [bench, stretch, showList]);
}
