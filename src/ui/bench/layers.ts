import { useEffect, useRef, useState } from 'react';
import { fetchProof, type ProofAnswer, type ProofWish, type Rect } from '../parts/api';
import type { Size } from './geometry';
import { livePlan, lookedSteps, useBenchStore, type Bench } from './store';
import { useStore } from 'zustand';

/** One of the two pictures on the canvas. */
export interface Layer extends ProofAnswer {
  /** Frame of the output it belongs to. */
  frame: number;
}

/** Names this page among the viewers of the server. */
const VIEWER = Math.random().toString(36).slice(2);
let turns = 0;

export const nextTurn = (): number => ++turns;
export const viewerName = (role: string): string => `${VIEWER}-${role}`;

/** Longest side of a proof asked for. */
const LARGEST = 4096;

/** A wish for what is on the canvas now. */
export function wishFor(bench: Bench, part: Rect, pixels: Size, role: 'source' | 'result', turn: number): ProofWish {
  const state = bench.getState();
  return {
    plan: livePlan(state),
    frame: state.frame,
    region: part,
    after: role === 'source' ? 0 : lookedSteps(state),
    fit: { width: Math.max(1, Math.min(LARGEST, Math.round(pixels.width))), height: Math.max(1, Math.min(LARGEST, Math.round(pixels.height))) },
    viewer: viewerName(role),
    turn,
    lane: 'picture',
  };
}

/**
 * The picture of a role, asked for anew whenever what it shows changes; the old one stays until the new one is there.
 * `paused` keeps it from asking, such as while a proofed stretch plays.
 */
export function useLayer(role: 'source' | 'result', part: Rect | undefined, pixels: Size, paused: boolean): { layer: Layer | undefined; waiting: boolean } {
  const bench = useBenchStore();
  const [layer, setLayer] = useState<Layer>();
  const [waiting, setWaiting] = useState(false);
  const abort = useRef<AbortController>(undefined);
  const plan = useStore(bench, livePlan);
  const frame = useStore(bench, (s) => s.frame);
  const after = useStore(bench, lookedSteps);
  // Parts that differ by less than a screen pixel are the same wish.
  const key = part && JSON.stringify([part.x, part.y, part.width, part.height].map((v) => Math.round(v * 20_000)).concat(Math.round(pixels.width), Math.round(pixels.height)));
  useEffect(() => {
    if (!part || paused) return;
    const turn = nextTurn();
    const started = performance.now();
    abort.current?.abort();
    const controller = (abort.current = new AbortController());
    setWaiting(true);
    fetchProof(bench.getState().item.id, wishFor(bench, part, pixels, role, turn), controller.signal)
      .then((answer) => {
        if (!answer || controller.signal.aborted) return;
        setLayer({ ...answer, frame });
        setWaiting(false);
        if (role === 'result') heard(bench, answer, performance.now() - started);
      })
      .catch((error: Error) => {
        if (controller.signal.aborted) return;
        setWaiting(false);
        if (role === 'result') bench.setState({ problem: error.message });
      });
    // The wish is named by its key, not by the objects that make it up.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [bench, role, plan, frame, role === 'source' ? 0 : after, key, paused]);
  useEffect(() => () => abort.current?.abort(), []);
  return { layer, waiting };
}

/** Takes over what a proof told: the output's size, and the cost of the steps that were not remembered. */
function heard(bench: Bench, answer: ProofAnswer, milliseconds: number): void {
  bench.setState((state) => {
    const fresh = answer.steps.filter((s) => s.milliseconds > 0.2);
    const same = JSON.stringify(state.output) === JSON.stringify(answer.output);
    return {
      problem: undefined,
      proofTime: milliseconds,
      costs: fresh.length ? { ...state.costs, ...Object.fromEntries(fresh.map((s) => [s.id, s.milliseconds])) } : state.costs,
      ...(same ? {} : { output: answer.output, frame: Math.min(state.frame, answer.output.frames - 1) }),
    };
  });
}
