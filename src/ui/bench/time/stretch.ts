import { useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { fetchProof } from '../../parts/api';
import { nextTurn, queryFor, type Layer } from '../picture/layers';
import { lookedNode, seenPlan, useBenchStore, type Bench } from '../state/store';

/** Both pictures of one frame. */
interface Proofed {
  source: Layer;
  result: Layer;
}

/** A proofed stretch: frames computed ahead, to be played at their own speed. */
export interface Stretch {
  find(frame: number): Proofed | undefined;
  /** Starts it for the range, or stops it. */
  toggle(): void;
  busy: boolean;
  done: number;
  total: number;
}

/** Frames a stretch may hold. */
export const LONGEST_STRETCH = 240;
/** Width and height pictures of a stretch are reduced to, for memory's sake. */
const SIZE = { width: 960, height: 720 };
/** Frames proofed when no range is set. */
const UNSET = 60;

/** Frames the stretch would take now. */
export function stretchRange(bench: Bench): { first: number; last: number } {
  const { range, frame, output } = bench.getState();
  const first = range ? range.first : frame;
  const last = range ? range.last : Math.min(output.frames - 1, frame + UNSET - 1);
  return { first, last: Math.min(last, first + LONGEST_STRETCH - 1) };
}

export function useStretch(): Stretch {
  const bench = useBenchStore();
  const frames = useRef(new Map<number, Proofed>());
  const running = useRef<AbortController>(undefined);
  const [progress, setProgress] = useState({ busy: false, done: 0, total: 0 });
  const plan = useStore(bench, seenPlan);
  const node = useStore(bench, lookedNode);
  // Another plan, or another place in it: what was proofed no longer holds.
  useEffect(() => {
    const kept = frames.current;
    return () => {
      running.current?.abort();
      kept.clear();
      setProgress({ busy: false, done: 0, total: 0 });
    };
  }, [plan, node]);

  return useMemo(() => {
    const start = async (): Promise<void> => {
      const controller = (running.current = new AbortController());
      const { first, last } = stretchRange(bench);
      frames.current.clear();
      setProgress({ busy: true, done: 0, total: last - first + 1 });
      bench.setState({ playing: 0, frame: first });
      const id = bench.getState().item.id;
      const whole = { x: 0, y: 0, width: 1, height: 1 };
      try {
        for (let n = first; n <= last; n++) {
          const ask = async (role: 'source' | 'result'): Promise<Layer> => {
            const query = { ...queryFor(bench, whole, SIZE, role, nextTurn()), frame: n };
            const answer = await fetchProof(id, { ...query, viewer: `${query.viewer}-stretch` }, controller.signal);
            if (!answer) throw new Error('the proof was dropped');
            return { ...answer, frame: n };
          };
          const [result, source] = [await ask('result'), await ask('source')];
          if (controller.signal.aborted) return;
          frames.current.set(n, { result, source });
          bench.setState({ frame: n });
          setProgress({ busy: true, done: n - first + 1, total: last - first + 1 });
        }
        bench.setState({ frame: first, playing: 1, range: { first, last } });
      } catch (error) {
        if (!controller.signal.aborted) bench.setState({ problem: (error as Error).message });
      } finally {
        if (running.current === controller) setProgress((p) => ({ ...p, busy: false }));
      }
    };
    return {
      find: (frame) => frames.current.get(frame),
      toggle: () => {
        if (running.current && !running.current.signal.aborted && progress.busy) {
          running.current.abort();
          setProgress((p) => ({ ...p, busy: false }));
        } else void start();
      },
      ...progress,
    };
  }, [bench, progress]);
}

/**
 * Moves the frame while playing: in a proofed range at the material's own speed and round and round, elsewhere as fast as
 * proofs come.
 */
export function usePlayback(stretch: Stretch): void {
  const bench = useBenchStore();
  const playing = useStore(bench, (s) => s.playing);
  useEffect(() => {
    if (!playing) return;
    const { output, range } = bench.getState();
    const rate = output.rate.num / Math.max(1, output.rate.den);
    let start = performance.now(),
      from = bench.getState().frame,
      request = 0;
    const tick = (now: number): void => {
      const state = bench.getState();
      const first = range?.first ?? 0,
        last = range?.last ?? output.frames - 1;
      const span = last - first + 1;
      let wanted = from + playing * Math.floor(((now - start) / 1000) * rate);
      if (wanted > last || wanted < first) wanted = first + ((((wanted - first) % span) + span) % span);
      if (wanted !== state.frame) {
        if (stretch.find(wanted)) bench.setState({ frame: wanted });
        else if (!state.waiting) {
          // Nothing proofed here: the clock waits for the picture.
          const next = state.frame + playing;
          from = next > last ? first : next < first ? last : next;
          start = now;
          bench.setState({ frame: from });
        }
      }
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [bench, playing, stretch]);
}
