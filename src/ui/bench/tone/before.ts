import { allSteps, stepsOn } from '../../../shared/plan';
import type { Place } from '../../../shared/maps/place';
import { fetchProof } from '../../parts/api';
import { nextTurn, SOURCE_NODE, viewerName } from '../picture/layers';
import { livePlan, type Bench } from '../state/store';

/** The node whose picture a step reads, or would read if it were on; the source for the first of the plan. */
export function nodeBefore(bench: Bench, id: string): string {
  const plan = livePlan(bench.getState());
  const steps = allSteps(plan),
    on = new Set(stepsOn(plan).map((step) => step.id));
  const at = steps.findIndex((step) => step.id === id);
  return steps.slice(0, Math.max(0, at)).findLast((step) => on.has(step.id))?.id ?? SOURCE_NODE;
}

/** Pixels, four bytes each, of a part of the picture that a step reads. @param region in fractions of the plan's output. */
export async function pixelsBefore(
  bench: Bench,
  id: string,
  region: Place,
  fit: { width: number; height: number },
  signal: AbortSignal,
): Promise<Uint8ClampedArray | undefined> {
  const state = bench.getState();
  const query = {
    ...{ plan: livePlan(state), frame: state.frame, region, fit },
    ...{ node: nodeBefore(bench, id), viewer: viewerName('tone'), turn: nextTurn(), lane: 'side' as const },
  };
  const answer = await fetchProof(state.item.id, query, signal);
  if (!answer) return undefined;
  const canvas = new OffscreenCanvas(answer.bitmap.width, answer.bitmap.height);
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) return undefined;
  context.drawImage(answer.bitmap, 0, 0);
  return context.getImageData(0, 0, canvas.width, canvas.height).data;
}
