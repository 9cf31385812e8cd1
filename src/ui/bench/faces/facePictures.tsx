'use client';

import { useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import type { PlanStep } from '../../../shared/plan';
import { fetchProof } from '../../parts/api';
import { nextTurn, viewerName } from '../picture/layers';
import { livePlan, useBench, useBenchStore } from '../state/store';
import { frameShowing } from '../hand/frames';
import { nodeBefore } from '../tone/before';
import { faceInOutput, type ListedFace } from './faceActions';

/** Side of a face's picture on screen, and how much of what is round it is seen, in its widths. */
const SIDE = 50,
  ROUND = 0.35;
/** Quiet time before a picture is asked for, milliseconds: the one in the middle comes first. */
const QUIET_MS = 200;

/** A face before a step and after it. */
export function FacePictures({ face, step }: { face: ListedFace; step: PlanStep }) {
  return (
    <>
      <FacePicture face={face} step={step} after={false} />
      <FacePicture face={face} step={step} after={true} />
    </>
  );
}

function FacePicture({ face, step, after }: { face: ListedFace; step: PlanStep; after: boolean }) {
  const bench = useBenchStore();
  const plan = useStore(bench, livePlan);
  const output = useBench((s) => s.output);
  const busy = useBench((s) => s.waiting);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [there, setThere] = useState(false);
  const { x, y, width, height } = face.box;
  const best = face.along?.best;
  // A film that is cut may not show it.
  const frame = useBench((s) => (best === undefined ? 0 : frameShowing(s, best)));
  useEffect(() => {
    if (busy || frame === undefined) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      const state = bench.getState();
      const region = faceInOutput(state, { ...face, box: { x, y, width, height } }, ROUND);
      if (!region) return;
      const side = SIDE * Math.max(1, window.devicePixelRatio);
      const query = {
        ...{ plan, frame, region, node: after ? step.id : nodeBefore(bench, step.id), fit: { width: side, height: side } },
        ...{ viewer: viewerName(`face ${x} ${y} ${frame} ${after}`), turn: nextTurn(), lane: 'side' as const },
      };
      fetchProof(state.item.id, query, controller.signal)
        .then((answer) => {
          const on = canvas.current;
          if (!answer || !on || controller.signal.aborted) return;
          on.width = answer.bitmap.width;
          on.height = answer.bitmap.height;
          on.getContext('2d')?.drawImage(answer.bitmap, 0, 0);
          setThere(true);
        })
        // The picture in the middle says what is wrong with the plan.
        .catch(() => undefined);
    }, QUIET_MS);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
    // What is said of the face is in the plan.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [bench, plan, output, busy, after, step.id, x, y, width, height, frame]);
  return (
    <canvas
      ref={canvas}
      className="border border-rule2 object-cover"
      style={{ width: SIDE, height: SIDE }}
      data-there={there}
      data-testid={after ? 'face-after' : 'face-before'}
      aria-hidden
    />
  );
}
