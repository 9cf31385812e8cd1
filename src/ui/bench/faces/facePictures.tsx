'use client';

import { useRef, useState } from 'react';
import type { PlanStep } from '../../../shared/plan';
import { useBenchStore } from '../state/store';
import { nodeBefore } from '../tone/before';
import type { ListedFace } from './faceActions';
import { useFaceProof } from './useFaceProof';

/** Side of a face's picture on screen, and how much of what is round it is seen, in its widths. */
const SIDE = 50,
  ROUND = 0.35;
/** Quiet time before a picture is asked for, milliseconds. */
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
  const canvas = useRef<HTMLCanvasElement>(null);
  const [there, setThere] = useState(false);
  const query = () => {
    const side = SIDE * Math.max(1, window.devicePixelRatio);
    return { node: after ? step.id : nodeBefore(bench, step.id), fit: { width: side, height: side } };
  };
  useFaceProof(face, { of: step.id, around: ROUND, quiet: QUIET_MS, query }, ({ bitmap }) => {
    const on = canvas.current;
    if (!on) return;
    on.width = bitmap.width;
    on.height = bitmap.height;
    on.getContext('2d')?.drawImage(bitmap, 0, 0);
    setThere(true);
  });
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
