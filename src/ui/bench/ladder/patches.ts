import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { allForks, stepsOn, type Plan } from '../../../shared/plan';
import { fetchProof, type Proof } from '../../parts/api';
import { loupePart } from '../picture/geometry';
import { nextTurn, SOURCE_NODE, viewerName } from '../picture/layers';
import { livePlan, useBenchStore } from '../state/store';

/** Side of a ladder patch on screen, and of the picture asked for. */
export const PATCH = 48;

/** Quiet time before patches are asked for, milliseconds: the picture in the middle comes first. */
const QUIET_MS = 120;

/** Stands for the plan's output among the nodes. */
export const OUTPUT = 'output';

/** The loupe's part as each node of the plan gives it, by its id. */
export type Patches = Record<string, Proof>;

/** Nodes that have a patch on the ladder, in its order. */
const patchedNodes = (plan: Plan): string[] => [
  SOURCE_NODE,
  ...stepsOn(plan).map((s) => s.id),
  ...allForks(plan).flatMap((fork) => (fork.on ? [...fork.branches.filter((b) => b.on).map((b) => b.id), fork.id] : [])),
  OUTPUT,
];

export function usePatches(): Patches {
  const bench = useBenchStore();
  const [patches, setPatches] = useState<Patches>({});
  const plan = useStore(bench, livePlan);
  const frame = useStore(bench, (s) => s.frame);
  const loupe = useStore(bench, (s) => s.loupe);
  const output = useStore(bench, (s) => s.output);
  // The picture in the middle comes first, with all of the machine.
  const busy = useStore(bench, (s) => s.playing !== 0 || s.watching || s.waiting);
  useEffect(() => {
    if (busy) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      const turn = nextTurn();
      const region = loupePart(output, loupe.u, loupe.v);
      const side = PATCH * Math.max(2, window.devicePixelRatio);
      const fit = { width: side * 4, height: side * 4 };
      for (const id of patchedNodes(plan)) {
        const node = id === OUTPUT ? undefined : id;
        fetchProof(
          bench.getState().item.id,
          { plan, frame, region, node, fit, viewer: viewerName('ladder'), turn, lane: 'side' },
          controller.signal,
        )
          .then((answer) => {
            if (answer && !controller.signal.aborted) setPatches((old) => ({ ...old, [id]: answer }));
          })
          // The picture in the middle says what is wrong with the plan.
          .catch(() => undefined);
      }
    }, QUIET_MS);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [bench, plan, frame, loupe, output, busy]);
  return patches;
}
