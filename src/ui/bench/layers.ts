import { useEffect, useMemo, useState } from 'react';
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
    evidence: role === 'result' && state.evidence,
    fit: {
      width: Math.max(1, Math.min(LARGEST, Math.round(pixels.width))),
      height: Math.max(1, Math.min(LARGEST, Math.round(pixels.height))),
    },
    viewer: viewerName(role),
    turn,
    lane: 'picture',
  };
}

/**
 * The picture of a role, asked for anew whenever what it shows changes; the old one stays until the new one is there.
 * `paused` keeps it from asking, such as while a proofed stretch plays.
 */
export function useLayer(
  role: 'source' | 'result',
  part: Rect | undefined,
  pixels: Size,
  paused: boolean,
): { layer: Layer | undefined; waiting: boolean } {
  const bench = useBenchStore();
  const [layer, setLayer] = useState<Layer>();
  const [settled, setSettled] = useState<object>();
  const plan = useStore(bench, livePlan);
  const frame = useStore(bench, (s) => s.frame);
  const looked = useStore(bench, lookedSteps);
  const after = role === 'source' ? 0 : looked;
  const evidence = useStore(bench, (s) => role === 'result' && s.evidence);
  // Parts that differ by less than a screen pixel are the same wish.
  const view =
    part &&
    JSON.stringify([part, { width: Math.round(pixels.width), height: Math.round(pixels.height) }], (_, v: unknown) =>
      typeof v === 'number' && v < 1 ? Math.round(v * 20_000) / 20_000 : v,
    );
  const wish = useMemo(
    () => (view && !paused ? { plan, frame, after, view, evidence } : undefined),
    [plan, frame, after, view, paused, evidence],
  );
  useEffect(() => {
    if (!wish) return;
    const controller = new AbortController();
    const started = performance.now();
    const [region, size] = JSON.parse(wish.view) as [Rect, Size];
    fetchProof(bench.getState().item.id, wishFor(bench, region, size, role, nextTurn()), controller.signal)
      .then((answer) => {
        if (!answer || controller.signal.aborted) return;
        setLayer({ ...answer, frame: wish.frame });
        setSettled(wish);
        if (role === 'result') heard(bench, answer, performance.now() - started);
      })
      .catch((error: Error) => {
        if (controller.signal.aborted) return;
        setSettled(wish);
        if (role === 'result') bench.setState({ problem: error.message });
      });
    return () => controller.abort();
  }, [bench, role, wish]);
  return { layer, waiting: wish !== undefined && settled !== wish };
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
