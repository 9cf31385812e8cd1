import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { fetchProof, type ProofAnswer } from '../parts/api';
import { loupePart } from './geometry';
import { nextTurn, viewerName } from './layers';
import { livePlan, useBenchStore } from './store';

/** Side of a ladder patch on screen, and of the picture asked for. */
export const PATCH = 48;

/** Quiet time before patches are asked for, milliseconds: the picture in the middle comes first. */
const QUIET = 120;

/** The loupe's part after each number of switched-on steps; 0 is the source. */
export type Patches = Record<number, ProofAnswer>;

export function usePatches(): Patches {
  const bench = useBenchStore();
  const [patches, setPatches] = useState<Patches>({});
  const plan = useStore(bench, livePlan);
  const frame = useStore(bench, (s) => s.frame);
  const loupe = useStore(bench, (s) => s.loupe);
  const output = useStore(bench, (s) => s.output);
  const playing = useStore(bench, (s) => s.playing !== 0);
  useEffect(() => {
    if (playing) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      const turn = nextTurn();
      const count = plan.steps.filter((s) => s.on).length;
      const region = loupePart(output, loupe.u, loupe.v);
      const side = PATCH * Math.max(2, window.devicePixelRatio);
      for (let after = 0; after <= count; after++) {
        fetchProof(
          bench.getState().item.id,
          { plan, frame, region, after, fit: { width: side * 4, height: side * 4 }, viewer: viewerName('ladder'), turn, lane: 'side' },
          controller.signal,
        )
          .then((answer) => {
            if (answer && !controller.signal.aborted) setPatches((old) => ({ ...old, [after]: answer }));
          })
          // The picture in the middle says what is wrong with the plan.
          .catch(() => undefined);
      }
    }, QUIET);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [bench, plan, frame, loupe, output, playing]);
  return patches;
}
