import { stepsOn } from '../../../shared/plan';
import type { Place } from '../../../shared/maps/place';
import { fetchProof } from '../../parts/api';
import { nextTurn, SOURCE_NODE, viewerName } from '../picture/layers';
import { livePlan, type Bench } from '../state/store';

/** The node whose picture a step reads; the source for the first of the plan, and for a step that is off. */
export function nodeBefore(bench: Bench, id: string): string {
  const steps = stepsOn(livePlan(bench.getState()));
  const at = steps.findIndex((step) => step.id === id);
  const before = at < 0 ? undefined : steps[at - 1];
  return before?.id ?? SOURCE_NODE;
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
