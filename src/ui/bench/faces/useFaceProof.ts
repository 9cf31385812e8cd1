'use client';

import { useEffect, useId, useRef } from 'react';
import { useStore } from 'zustand';
import type { ProofQuery } from '../../../shared/requests';
import { fetchProof, type Proof } from '../../parts/api';
import { frameShowing } from '../hand/frames';
import { nextTurn, viewerName } from '../picture/layers';
import { livePlan, useBench, useBenchStore } from '../state/store';
import { faceInOutput, type ListedFace } from './faceActions';

interface FaceProof {
  /** What is asked of: of another it is asked anew. */
  of: string;
  /** How much of what is round the face is asked for, in its widths. */
  around: number;
  /** Time without changes before it is asked, milliseconds: the picture in the middle comes first. */
  quiet: number;
  /** Whether it is asked at all. */
  wanted?: boolean;
  query: () => Pick<ProofQuery, 'node' | 'found' | 'fit'>;
}

/** Asks for a proof of what is round a face whenever the plan or the face changes. What fails is left to the picture in the middle to say. */
export function useFaceProof(
  face: ListedFace,
  { of, around, quiet, wanted = true, query }: FaceProof,
  onAnswer: (answer: Proof) => void,
): void {
  const own = useId();
  const bench = useBenchStore();
  const plan = useStore(bench, livePlan);
  const output = useBench((s) => s.output);
  const busy = useBench((s) => s.waiting);
  const { x, y, width, height } = face.box;
  const best = face.along?.best;
  // A film that is cut may not show it.
  const frame = useBench((s) => (best === undefined ? 0 : frameShowing(s, best)));
  const latest = useRef({ query, onAnswer });
  useEffect(() => {
    latest.current = { query, onAnswer };
  });
  useEffect(() => {
    if (!wanted || busy || frame === undefined) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      const state = bench.getState();
      const region = faceInOutput(state, { ...face, box: { x, y, width, height } }, around);
      if (!region) return;
      const asked = {
        ...{ plan, frame, region, ...latest.current.query() },
        ...{ viewer: viewerName(`face ${own}`), turn: nextTurn(), lane: 'side' as const },
      };
      fetchProof(state.item.id, asked, controller.signal)
        .then((answer) => answer && !controller.signal.aborted && latest.current.onAnswer(answer))
        .catch(() => undefined);
    }, quiet);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
    // What is said of the face is in the plan.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [bench, plan, output, busy, wanted, of, own, around, quiet, x, y, width, height, frame]);
}
